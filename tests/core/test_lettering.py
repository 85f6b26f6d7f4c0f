"""Typefaces, shaping and setting."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.lettering import glyph_outline, set_words, typeface, typefaces

NAMES = [face.name for face in typefaces()]
# A script's capitals swing above its stated cap height; stencils and inlines cut an O apart.
UPRIGHT = [name for name in NAMES if name not in ("pacifico", "baloo-2")]
WHOLE = [name for name in NAMES if name not in ("saira-stencil-one", "bungee-inline")]


@pytest.mark.parametrize("name", UPRIGHT)
def test_a_capital_is_as_high_as_asked(name: str) -> None:
    layout = set_words("H", name, size=0.5)
    outline = glyph_outline(name, int(layout.glyphs[0]))
    height = np.ptp(outline.controls[..., 1]) * layout.em
    assert height == pytest.approx(0.5, rel=0.02)


@pytest.mark.parametrize("name", WHOLE)
def test_outer_contours_run_counter_clockwise_and_counters_the_other_way(name: str) -> None:
    layout = set_words("O", name)
    outline = glyph_outline(name, int(layout.glyphs[0]))
    areas = []
    for contour in range(int(outline.contour.max()) + 1):
        points = outline.controls[outline.contour == contour, 0]
        after = np.roll(points, -1, axis=0)
        areas.append(float(np.sum(points[:, 0] * after[:, 1] - points[:, 1] * after[:, 0])))
    assert len(areas) == 2
    assert max(areas) > 0 > min(areas)


@given(st.text(alphabet=st.characters(codec="utf-8", exclude_categories=["Cs"]), max_size=40), st.sampled_from(NAMES))
def test_any_text_can_be_set(words: str, name: str) -> None:
    layout = set_words(words, name)
    assert len(layout.glyphs) == len(layout.places) == len(layout.sources)
    assert np.isfinite(layout.places).all()
    assert all(0 <= source < len(words) for source in layout.sources)


def test_lines_are_aligned_and_stand_a_leading_apart() -> None:
    for align, edge in (("left", np.min), ("right", np.max), ("centre", None)):
        layout = set_words("HHH\nHI", "anton", size=0.5, leading=1.5, align=align)
        rows = np.round(layout.places[:, 1], 9)
        assert sorted(set(rows)) == [0.0, pytest.approx(0.75)]
        if edge is np.min:
            assert layout.places[rows == 0, 0].min() == pytest.approx(layout.places[rows > 0, 0].min())


def test_tracking_adds_the_same_room_everywhere() -> None:
    plain, wide = (set_words("WATER", "anton", tracking=t) for t in (0, 100))
    gained = np.diff(wide.places[:, 0]) - np.diff(plain.places[:, 0])
    np.testing.assert_allclose(gained, 0.1 * plain.em, atol=1e-9)


def test_kerning_comes_from_the_typeface() -> None:
    kerned = np.diff(set_words("AV", "playfair-display").places[:, 0])[0]
    apart = np.diff(set_words("AH", "playfair-display").places[:, 0])[0]
    assert kerned < apart


def test_other_scripts_are_shaped_by_their_rules() -> None:
    """Arabic joins and runs from right to left; Devanagari puts signs before the letter they follow."""
    arabic = set_words("بحر", "amiri")
    assert arabic.missing == "" and list(arabic.sources) == [2, 1, 0]
    alone = {int(set_words(letter, "amiri").glyphs[0]) for letter in "بحر"}
    assert not set(arabic.glyphs.tolist()) & alone, "letters take the shapes they have when joined"
    devanagari = set_words("कि", "baloo-2")
    assert devanagari.missing == "" and len(devanagari.glyphs) == 2
    assert int(devanagari.glyphs[1]) == int(set_words("क", "baloo-2").glyphs[0])
    for words in ("ΘΑΛΑΣΣΑ", "ПАРОМ"):
        assert set_words(words, "noto-sans").missing == ""


def test_missing_characters_are_named() -> None:
    assert set_words("A漢B字漢", "anton").missing == "漢字"
    assert set_words("ABBA", "anton").missing == ""


def test_an_unknown_typeface_falls_back_instead_of_failing() -> None:
    assert typeface("no-such-face").name == NAMES[0]
