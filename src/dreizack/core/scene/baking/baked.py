"""What a shot is over time."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ...document import Shot, SurfacePicture
from ..form import Form
from .covering import BakedCover, BakedPatch

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class BakedBody:
    """A title over time: ``there`` (frames,) says when it is there at all, ``matrix`` (frames, 4, 4), its
    surfaces: ``colours`` (frames, surfaces, COLOURS, 3) and ``terms`` (frames, surfaces, TERMS), both of
    :mod:`dreizack.core.finish`, and ``bumps``, kind and size of each.

    ``pictures`` is what is on each surface, ``placing`` (frames, surfaces, TEXTURE_TRANSFORM) how it lies
    there, ``playing`` (frames, surfaces) which frame of a video it is. ``surface_index`` (finishes, PARTS)
    says which surface a part wears. ``forms`` holds each distinct form once, ``form`` (frames,) says which
    one a frame shows. ``poses`` (frames, pieces, 3, 4) is where its pieces stand in it (one frame for all
    where nothing moves them), ``looks`` (frames, pieces, LOOK_VALUES) what sets do to what
    they look like, ``reveal`` (frames,
    REVEAL_VALUES) what of it is uncovered, None where always all is.
    """

    there: NDArray[np.bool_]
    matrix: Floats
    poses: Floats
    looks: Floats | None
    colours: Floats
    terms: Floats
    surface_index: Ints
    bumps: tuple[tuple[str, float], ...]
    pictures: tuple[SurfacePicture | None, ...]
    texture_transform: Floats
    playing: Ints
    forms: list[Form]
    form: Ints
    reveal: Floats | None = None

    def poses_at(self, index: int) -> Floats:
        """Where the pieces stand (pieces, 3, 4) at a frame."""
        at: Floats = self.poses[min(index, len(self.poses) - 1)]
        return at

    def looks_at(self, index: int) -> Floats | None:
        """What pieces look like (pieces, LOOK_VALUES) at a frame, where that is more than their finish."""
        return None if self.looks is None else self.looks[min(index, len(self.looks) - 1)]


@dataclass(frozen=True)
class BakedLight:
    """A light over time: ``matrix`` (frames, 4, 4) of what glows, ``radiance`` (frames, 3), ``size`` (frames,
    2) in metres (of the sun: degrees), ``cone`` (frames, 2) cosines where it has one, ``shadow`` (frames, 4)
    colour and density."""

    source: str
    matrix: Floats
    radiance: Floats
    position: Floats
    aim: Floats
    size: Floats
    cone: Floats | None
    shadow: Floats
    mirrored: bool
    reaches: tuple[str, ...] | None
    slide: str
    falloff: str
    there: NDArray[np.bool_]


@dataclass(frozen=True)
class BakedCamera:
    """A camera over all frames, looked through or not: where it stands, what it looks at and what that is
    counted from (frames, 3), and its angle of view from top to bottom in degrees (frames,)."""

    position: Floats
    aim: Floats
    followed: Floats
    angle: Floats


@dataclass(frozen=True)
class BakedAir:
    """Air over all frames: its density a metre, how much it scatters forward, -1..1, and how many metres it
    reaches from the camera (frames,); its colour (frames, 3); whether it is before the backdrop, too."""

    density: Floats
    tint: Floats
    forward: Floats
    reach: Floats
    over: bool


@dataclass(frozen=True)
class Baked:
    """Everything a frame needs, for all frames; angles in degrees, lengths in metres.

    ``shot`` is what was evaluated, with all that changes as it is at these frames; ``sun`` (frames, 2) is
    elevation and azimuth where the surroundings are a sky, ``lens_radius`` (frames,) that of the opening, 0
    where all is in focus. ``camera_followed`` (frames, 3) is where the camera's aim is counted from,
    ``pivots`` are matrices (frames, 4, 4) of pivots, ``optics`` (frames,) their values by pointer below them,
    ``shadow_tone`` (frames, 3) what shadow takes of the plate, ``caught`` (frames, 4) what shadows there do
    that light does not (:class:`CaughtShadow`), ``filmed`` (frames, 4) how many pixels words are blurred to
    look filmed with it, and how black they are at most, ``spaces`` matrices of what things, or the "camera",
    hang on, ``covers`` and ``patches`` those of the plate, ``cameras`` all of them by name, where there are
    several.
    """

    shot: Shot
    frames: Floats
    camera_position: Floats
    camera_aim: Floats
    camera_followed: Floats
    camera_roll: Floats
    camera_angle: Floats
    lens_radius: Floats
    focus: Floats
    exposure: Floats
    surroundings_strength: Floats
    surroundings_rotation: Floats
    surroundings_tilt: Floats
    surroundings_tint: Floats
    surroundings_blur: Floats
    surroundings_frame: Ints
    sun: Floats
    backdrop: Floats
    backdrop_second: Floats
    backdrop_frame: Ints
    shadow_tone: Floats
    caught: Floats
    filmed: Floats
    titles: dict[str, BakedBody]
    lights: dict[str, BakedLight]
    pivots: dict[str, Floats]
    spaces: dict[str, Floats]
    optics: dict[str, Floats]
    channels: dict[str, Floats]
    cameras: dict[str, BakedCamera]
    air: BakedAir
    covers: tuple[BakedCover, ...] = ()
    patches: tuple[BakedPatch, ...] = ()
