"""OpenEXR files of several parts: every pass, or every light, of one frame."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import OpenEXR
from numpy.typing import NDArray

from ...document import Shot
from ...optics import Passes, as_filmed
from ...render import QUALITIES, Stage, data_passes, trace_passes
from ...scene import BodyStore, FrameState, exposed
from ..picture import FramePicture
from .stills import exr_header, titles_light

Floats = NDArray[np.float32]


class PassesWriter:
    """Writes beauty, titles, shadow, plate, depth, normal, motion and the ids of parts of a shot's frames.

    Light is half float; data is float, and exact. ``parts``: channels id0 and share0 to id3 and share3, the
    largest share first, and an attribute ``partNames``, JSON, that names the numbers.
    """

    def __init__(self, shot: Shot, stopped: Callable[[], bool] = lambda: False) -> None:
        self.shot, self.stopped = shot, stopped
        self.stage = Stage(BodyStore())

    def __call__(self, path: Path, picture: FramePicture) -> None:
        state, settings = picture.state, picture.settings
        assert state is not None and settings is not None and picture.passes is not None
        height, width = picture.light.shape[:2]
        after = self._after(picture.number)
        data = data_passes(self.stage, state, after, (width, height), self.stopped)
        behind = np.broadcast_to(np.asarray(settings.backdrop, np.float32), (height, width, 3))
        names = {str(number): name for number, name in enumerate(data.names, 1)}
        ranks = {
            f"{what}{rank}": np.ascontiguousarray(values[..., rank])
            for what, values in (("id", data.ids), ("share", data.shares))
            for rank in range(values.shape[2])
        }
        parts = [
            _part("beauty", {"RGB": _half(picture.light)}),
            _part("titles", {"RGBA": _half(titles_light(picture))}),
            _part("plate", {"RGB": _half(behind * np.float32(2.0**settings.exposure))}),
            _part("depth", {"Z": data.depth}),
            _part("normal", {"X": data.normal[..., 0], "Y": data.normal[..., 1], "Z": data.normal[..., 2]}),
            _part("motion", {"u": data.motion[..., 0], "v": data.motion[..., 1]}),
            _part("parts", ranks, partNames=json.dumps(names)),
        ]
        if picture.passes.beauty.shape[2] > 4:
            filmed = as_filmed(picture.passes, settings)
            parts.insert(2, _part("shadow", {"Y": _half(filmed.shadow[..., 0])}))
        if settings.hidden is not None:
            # What stands in the plate before the titles, as a matte.
            parts.append(_part("covers", {"Y": _half(np.asarray(settings.hidden, np.float32)[..., 0])}))
        with OpenEXR.File(parts) as file:
            file.write(str(path))

    def _after(self, frame: int) -> FrameState | None:
        return exposed(self.shot, float(frame + 1)) if frame + 1 < self.shot.format.frames else None


class LightsWriter:
    """Writes what each light alone makes of the titles; light is additive, so together they are all of it
    (Veach, Robust Monte Carlo Methods for Light Transport Simulation, 1997, 4.1)."""

    def __init__(self, quality: str, stopped: Callable[[], bool] = lambda: False) -> None:
        self.quality, self.stopped = QUALITIES[quality], stopped
        self.stage = Stage(BodyStore())

    def __call__(self, path: Path, picture: FramePicture) -> None:
        state, settings = picture.state, picture.settings
        assert state is not None and settings is not None
        height, width = picture.light.shape[:2]
        parts = [_part("titles", {"RGBA": _half(titles_light(picture))})]
        sources = ["surroundings", *state.lights, *glowing(state)]
        self.stage.show(state)
        try:
            for name in sources:
                self.stage.only({other: float(other == name) for other in [*sources, *state.titles]})
                found = trace_passes(self.stage, width, height, self.quality, self.stopped)
                filmed = as_filmed(Passes(found.denoised(self.quality.denoiser)), settings)
                light = filmed.beauty[..., :3] * np.float32(2.0**settings.exposure)
                parts.append(_part(f"light.{name}", {"RGB": _half(light)}))
        finally:
            self.stage.only({})
        with OpenEXR.File(parts) as file:
            file.write(str(path))


def glowing(state: FrameState) -> list[str]:
    """Names of the things that send light of their own."""
    return [name for name, t in state.titles.items() if any("emission" in layers for layers in t.layers)]


def _part(name: str, channels: dict[str, NDArray[Any]], **more: Any) -> OpenEXR.Part:
    return OpenEXR.Part(
        exr_header(colour=any(key.startswith("RGB") for key in channels), **more),
        {key: np.ascontiguousarray(value) for key, value in channels.items()},
        name,
    )


def _half(light: Floats) -> NDArray[np.float16]:
    # The largest half; light of lamps seen directly may be more.
    half: NDArray[np.float16] = np.minimum(light, 65504.0).astype(np.float16)
    return half
