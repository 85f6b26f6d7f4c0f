"""A letter that has an outline has a body, and keeps its bevel: in every shipped face, at any tolerance."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.document import Setting
from dreizack.core.form import GlyphBody, build_bodies, profile
from dreizack.core.lettering import glyph_outline, set_words, typefaces

# Letters that once lost their bevel or vanished: exact cusps, touching points, points nanometres apart.
ONCE = {
    "barlow-condensed": "TŢAĄ",
    "saira-stencil-one": "ẪỄỖ",
    "pacifico": "Ŋ",
    "bungee-inline": "ÆŒ&",
    "amiri": "ẢỔ",
    "playfair-display": "&ß§",
}
CHARACTERS = "".join(
    map(
        chr,
        [
            *range(0x21, 0x7F),
            *range(0xA1, 0x180),
            *range(0x1EA0, 0x1EFA),
            *range(0x391, 0x3CA),
            *range(0x410, 0x450),
        ],
    )
)


def bevelled(body: GlyphBody) -> float:
    """The bevel's share of the front, seen from the front."""

    def area(part: str) -> float:
        a, b, c = np.moveaxis(body.position[body.part(part)].astype(np.float64)[..., :2], 1, 0)
        return float(
            np.abs(
                (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])
            ).sum()
        )

    # The bevel has a back side too, as large as the front one.
    bevel = area("bevel") / 2
    return bevel / max(bevel + area("face"), 1e-12)


def built(name: str, characters: str, shape: str, tolerance: float) -> dict[str, GlyphBody]:
    layouts = {c: set_words(c, Setting(typeface=name)) for c in characters}
    found = {
        f"{c}{i}": glyph_outline(g) for c, layout in layouts.items() for i, g in enumerate(layout.glyphs)
    }
    drawn = {key: outline for key, outline in found.items() if not outline.empty}
    em = set_words("H", Setting(typeface=name)).em
    edge = profile(shape, 0.018, 0.018, em * tolerance)
    return dict(
        zip(drawn, build_bodies(list(drawn.values()), em, 0.18, edge, edge, em * tolerance), strict=True)
    )


@pytest.mark.parametrize("name", sorted(ONCE))
@pytest.mark.parametrize("shape", ["chamfer", "ogee"])
def test_what_once_lost_its_edge_has_it(name: str, shape: str) -> None:
    for key, body in built(name, ONCE[name], shape, 6e-4).items():
        assert not body.empty and bevelled(body) > 0.01, key


@pytest.mark.parametrize("number", range(len(typefaces())))
def test_letters_of_every_face_are_whole_at_any_tolerance(number: int) -> None:
    face, rng = typefaces()[number], np.random.default_rng(number)
    have = [c for c in CHARACTERS if face.has(c)]
    for _ in range(3):
        some = "".join(rng.choice(have, size=min(40, len(have)), replace=False))
        tolerance = float(10 ** rng.uniform(-4, -2.3))
        bodies = built(face.name, some, str(rng.choice(["chamfer", "roundover", "cove"])), tolerance)
        assert [key for key, body in bodies.items() if body.empty] == [], (some, tolerance)
        assert [key for key, body in bodies.items() if bevelled(body) < 1e-3] == [], (some, tolerance)
