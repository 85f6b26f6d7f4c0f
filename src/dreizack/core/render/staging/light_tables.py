"""What the lights of a shot do beyond shining: cones and slides, reach, shadows, links."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from ...caching import cached_by_size
from ...finish import library_picture
from ...light import FALLOFFS
from ...scene import FrameState, LightState
from ..kernel.engine import arrays, engine
from ..transport.tables import (
    SLIDE,
)
from .emitter_tables import EmitterTables
from .shape_tables import ShapeTables

mi, dr = engine(), arrays()

Floats = NDArray[np.float64]
Table = NDArray[np.float32]


@dataclass
class LightTables:
    """What the lights of a shot do beyond shining: rows by number of their emitter."""

    cones: Table
    falloffs: Table
    shadows: Table
    links: Table
    ambient: Floats
    slides: list[NDArray[np.float32]]


def light_tables(
    state: FrameState, gains: dict[str, float], shapes: ShapeTables, emitters: EmitterTables
) -> LightTables:
    """Tables of the lights of a state; ``gains`` scales lights by name."""
    from .stage import light_id

    size = emitters.size
    made = LightTables(
        cones=np.zeros((size * 4, 3), np.float32),
        falloffs=np.zeros(size, np.float32),
        shadows=np.tile(np.array([0, 0, 0, 1, 0, 0], np.float32), size),
        links=np.ones((len(shapes.flags), size), np.float32),
        ambient=np.zeros(3),
        slides=[],
    )
    for name, light in state.lights.items():
        if light.source == "ambient":
            made.ambient = made.ambient + light.radiance * gains.get(name, 1.0)
            continue
        number = emitters.numbers[emitters.ids.index(light_id(name))]
        made.shadows[number * 6 : number * 6 + 4] = light.shadow
        made.falloffs[number] = FALLOFFS[light.falloff] if light.source != "sun" else 0
        _lay_cone(made, number, light)
        if light.reaches is not None:
            for at, owner in shapes.owners.items():
                if owner in state.titles:
                    made.links[shapes.numbers[at], number] = owner in light.reaches
    return made


def _lay_cone(made: LightTables, number: int, light: LightState) -> None:
    """The four rows of a light with a cone: axis, angles, and how its slide lies, as wide as the cone."""
    if light.cone is None:
        return
    axis = light.matrix[:3, 2] / np.linalg.norm(light.matrix[:3, 2])
    made.cones[number * 4], made.cones[number * 4 + 1] = axis, [light.cone[0], light.cone[1], 1.0]
    picture = _slide_picture(light.slide)
    if picture is not None:
        made.cones[number * 4 + 2] = light.matrix[:3, 1] / np.linalg.norm(light.matrix[:3, 1])
        made.cones[number * 4 + 3] = np.tan(np.arccos(light.cone[0])), len(made.slides), 0
        made.slides.append(picture)


@cached_by_size(64)
def _slide_picture(file: str) -> NDArray[np.float32] | None:
    """A slide (SLIDE, SLIDE, 3), its middle square."""
    picture = library_picture(file) if file else None
    if picture is None:
        return None
    side = min(picture.shape[:2])
    top, left = (picture.shape[0] - side) // 2, (picture.shape[1] - side) // 2
    made: NDArray[np.float32] = cv2.resize(
        picture[top : top + side, left : left + side], (SLIDE, SLIDE), interpolation=cv2.INTER_AREA
    ).astype(np.float32)
    return made
