"""The state of one frame: all the renderer is told."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..document import Fill, Shot
from ..finish import layers
from .bake import Baked
from .form import Form

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class TitleState:
    """A title at one frame: form, ``matrix`` (4, 4), and its finishes: base colour (finishes, 3)
    and ``terms`` (finishes, TERMS), with the ``layers`` that they ever have; ``fill`` is what is on a sheet.
    """

    form: Form
    matrix: Floats
    base_colour: Floats
    terms: Floats
    layers: tuple[str, ...] = ()
    fill: Fill | None = None

    @property
    def pictured(self) -> tuple[Fill, tuple[float, float, float]] | None:
        """The fill of a sheet that is more than one colour, with its base colour."""
        if self.fill is None or self.fill.kind == "colour":
            return None
        r, g, b = self.base_colour[0].tolist()
        return self.fill, (r, g, b)


@dataclass(frozen=True)
class FrameState:
    """One frame. ``angle`` is vertical, in degrees; ``lights`` are (matrix (4, 4), radiance (3,))."""

    camera_position: Floats
    camera_aim: Floats
    camera_roll: float
    angle: float
    studio: str
    surroundings_strength: float
    surroundings_rotation: float
    titles: dict[str, TitleState]
    lights: dict[str, tuple[Floats, Floats]]
    exposure: float
    backdrop: Floats

    @property
    def traced_key(self) -> str:
        """Hash of exactly what tracing can see; exposure and backdrop come after it."""
        seen = (
            self.camera_position.tolist(), self.camera_aim.tolist(), self.camera_roll, self.angle, self.studio,
            self.surroundings_strength, self.surroundings_rotation,
            [(t.form.key, t.matrix.tolist(), t.base_colour.tolist(), t.terms.tolist(), repr(t.fill)) for t in self.titles.values()],
            [(m.tolist(), r.tolist()) for m, r in self.lights.values()],
        )
        return fingerprint(seen)


def fingerprint(value: Any) -> str:
    """Short stable hash of plain values."""
    return hashlib.blake2b(repr(value).encode(), digest_size=16).hexdigest()


def frame_state(shot: Shot, baked: Baked, index: int) -> FrameState:
    """Pick one frame (by its place in the baked run) out of the arrays."""
    return FrameState(
        camera_position=baked.camera_position[index],
        camera_aim=baked.camera_aim[index],
        camera_roll=float(baked.camera_roll[index]),
        angle=float(baked.camera_angle[index]),
        studio=shot.surroundings.studio,
        surroundings_strength=float(baked.surroundings_strength[index]),
        surroundings_rotation=float(baked.surroundings_rotation[index]),
        titles={
            name: TitleState(
                t.forms[int(t.form[index])], t.matrix[index], t.base_colour[index],
                t.terms[index], layers(t.terms), getattr(shot.things.get(name), "fill", None),
            )
            for name, t in baked.titles.items()
        },
        lights={name: (light.matrix[index], light.radiance[index]) for name, light in baked.lights.items()},
        exposure=float(baked.exposure[index]),
        backdrop=baked.backdrop[index],
    )
