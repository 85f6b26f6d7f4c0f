"""What each shape of a scene may do, and how it mirrors and scatters."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...colour import LUMINANCE
from ...finish import BUMPS, MASK, SPAN, TERMS
from ...scene import BodyState, FrameState, on_frame
from ..kernel.engine import arrays, engine
from ..transport.materials import absorption, bump_scale, scattering
from ..transport.tables import (
    ADDS,
    CAMERA,
    CASTS,
    CATCHES,
    EVERYTHING,
    LAMP,
    MIRRORED,
    MULTIPLIES,
    RECEIVES,
    SCREENS,
)
from .meshes import PartMesh

mi, dr = engine(), arrays()

Floats = NDArray[np.float64]
Table = NDArray[np.float32]

BLEND_BITS = {"normal": 0, "add": ADDS, "screen": SCREENS, "multiply": MULTIPLIES}
# Roughness up to which a mirror image is sharp, and own colour up to which one sees nothing else.
SHARP, DARK = 0.14, 0.06


@dataclass
class ShapeTables:
    """Rows by number of a shape, and whose a shape is, by its id."""

    numbers: dict[str, int]
    owners: dict[str, str]
    flags: NDArray[np.uint32]
    gloss: Table
    absorbs: Table
    scatters: Table
    mirrors: Table
    reliefs: Table
    fades: Table
    plates: Table
    masked: bool = False

    @classmethod
    def empty(cls, numbers: dict[str, int]) -> ShapeTables:
        rows = max(numbers.values(), default=0) + 2

        def zeros(*columns: int) -> Table:
            return np.zeros((rows, *columns), np.float32)

        return cls(
            numbers,
            owners={},
            flags=np.full(rows, EVERYTHING, np.uint32),
            gloss=np.ones((rows, 3), np.float32),
            absorbs=zeros(3),
            scatters=zeros(),
            mirrors=zeros(4),
            reliefs=zeros(3),
            fades=zeros(4),
            plates=zeros(8),
        )


def shape_tables(
    scene: Any, state: FrameState, parts: dict[str, dict[tuple[int, str], PartMesh]]
) -> ShapeTables:
    """Tables of all shapes of a scene as ``state`` has it."""
    from .stage import light_id, part_id, surface_index

    made = ShapeTables.empty(
        {shape.id(): int(dr.reinterpret_array(mi.UInt32, mi.ShapePtr(shape))[0]) for shape in scene.shapes()}
    )
    for name, title in state.titles.items():
        for finish, part in parts[name]:
            at, number = part_id(name, finish, part), surface_index(title, finish, part)
            row = made.numbers[at]
            made.owners[at] = name
            made.flags[row] = _bits(title.visibility) | _blend(title)
            made.masked |= MASK in title.layers[number]
            made.mirrors[row] = _mirror(title, number)
            made.gloss[row] = _gloss(title, number)
            made.plates[row, :7] = _plate(state, title, number)
            made.fades[row] = *title.fades, title.matrix[0, 3], title.matrix[2, 3]
            kind, scale = title.bumps[number]
            if kind != "none":
                slope = bump_scale(title.terms[number], scale)
                made.reliefs[row] = BUMPS.index(kind), 1 / (scale * SPAN), slope
            if "transmission" in title.layers[number]:
                made.absorbs[row] = absorption(title.colours[number], title.terms[number])
                made.scatters[row] = scattering(title.terms[number])
    for name, light in state.lights.items():
        if light.source != "ambient":
            at = light_id(name)
            made.owners[at] = name
            made.flags[made.numbers[at]] = CASTS | RECEIVES | LAMP | (MIRRORED if light.mirrored else 0)
    return made


def _plate(state: FrameState, title: BodyState, number: int) -> list[float]:
    """How a picture on the plate fills the frame, then 1; zeros where there is none."""
    picture = title.pictures[number] if title.pictures else None
    if picture is None or picture.space != "plate":
        return [0.0] * 7
    return [*on_frame(picture, title.texture_transform[number], state.aspect).tolist(), 1.0]


def _mirror(title: BodyState, number: int) -> tuple[float, float, float, float]:
    """What a surface mirrors straight on, and 1 where nearly all one sees of it is a sharp mirror image."""
    of = dict(zip(TERMS, title.terms[number].tolist(), strict=True))
    base = title.colours[number, 0]
    pictured = title.pictured is not None or title.pictures[number] is not None
    coated = of["clearcoat"] > 0.5 and of["clearcoat_roughness"] <= SHARP
    plain = float(base @ LUMINANCE) * (1 - of["metallic"])
    if pictured or of["transmission"] > 0 or plain > DARK or not (of["roughness"] <= SHARP or coated):
        return 0.0, 0.0, 0.0, 0.0
    straight = ((of["ior"] - 1) / (of["ior"] + 1)) ** 2
    r, g, b = (straight * (1 - of["metallic"]) + base * of["metallic"]).tolist()
    return r, g, b, 1.0


def _bits(visibility: tuple[bool, ...]) -> int:
    bits = (CAMERA, MIRRORED, CASTS, RECEIVES, CATCHES)
    return sum(bit for bit, on in zip(bits, visibility, strict=True) if on)


def _blend(title: BodyState) -> int:
    """Catchers hide what is behind them, whatever else is said."""
    return 0 if title.visibility[4] else BLEND_BITS[title.blend]


def _gloss(title: BodyState, number: int) -> tuple[float, float, float]:
    """Which share of its light a surface scatters rather than mirrors, and the squares of its microfacets'
    width along u and v."""
    of = dict(zip(TERMS, title.terms[number].tolist(), strict=True))
    pictured = title.pictured is not None or title.pictures[number] is not None
    base = 0.5 if pictured else float(title.colours[number, 0] @ LUMINANCE)
    straight = ((of["ior"] - 1) / (of["ior"] + 1)) ** 2
    scatters = base * (1 - of["metallic"]) * (1 - of["transmission"])
    mirrors = straight * (1 - of["metallic"]) + base * of["metallic"]
    square = max(of["roughness"], 0.05) ** 4
    aspect = 1 - 0.9 * of["anisotropy"] if "anisotropy" in title.layers[number] else 1.0
    return scatters / max(scatters + mirrors, 1e-6), square / aspect, square * aspect
