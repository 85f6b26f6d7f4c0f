"""Typefaces, shaping and setting."""

from __future__ import annotations

import unicodedata

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import Axis, Gap, Range, Setting
from dreizack.core.lettering import Layout, glyph_outline, set_words, sturdiness, typeface, typefaces
from dreizack.core.lettering.bidi import levels, visual_order

NAMES = [face.name for face in typefaces() if not face.brought]
# A script's capitals swing above its stated cap height; stencils and inlines cut an O apart.
UPRIGHT = [name for name in NAMES if name not in ("pacifico", "baloo-2")]
WHOLE = [name for name in NAMES if name not in ("saira-stencil-one", "bungee-inline")]


def plain(words: str, name: str, **setting: object) -> Layout:
    return set_words(words, Setting(typeface=name, **{"tracking": 0, **setting}))


@pytest.mark.parametrize("name", UPRIGHT)
def test_a_capital_is_as_high_as_asked(name: str) -> None:
    layout = plain("H", name, size=0.5)
    height = np.ptp(glyph_outline(layout.glyphs[0]).controls[..., 1]) * layout.em
    assert height == pytest.approx(0.5, rel=0.02)


@pytest.mark.parametrize("name", WHOLE)
def test_outer_contours_run_counter_clockwise_and_counters_the_other_way(name: str) -> None:
    outline = glyph_outline(plain("O", name).glyphs[0])
    areas = []
    for contour in range(int(outline.contour.max()) + 1):
        points = outline.controls[outline.contour == contour, 0]
        after = np.roll(points, -1, axis=0)
        areas.append(float(np.sum(points[:, 0] * after[:, 1] - points[:, 1] * after[:, 0])))
    assert len(areas) == 2
    assert max(areas) > 0 > min(areas)


@given(
    st.text(alphabet=st.characters(codec="utf-8", exclude_categories=["Cs"]), max_size=40),
    st.sampled_from(NAMES),
    st.sampled_from(["as typed", "upper", "lower", "small caps"]),
    st.booleans(),
)
def test_any_text_can_be_set(words: str, name: str, case: str, optical: bool) -> None:
    layout = plain(words, name, case=case, optical=optical)
    assert (
        len(layout.glyphs)
        == len(layout.places)
        == len(layout.sources)
        == len(layout.middle)
        == len(layout.word)
    )
    assert np.isfinite(layout.places).all() and np.isfinite(layout.middle).all()
    assert all(0 <= source < len(words) for source in layout.sources)


@pytest.mark.parametrize(
    "words", ["", " ", "\n\n", "\u200d", "\u200d\u200d", "🚢🌊", "\u0301", "\u202e\u202eab", "\x00\x07"]
)
def test_texts_of_nothing_much_are_sound(words: str) -> None:
    layout = plain(words, "anton")
    assert np.isfinite(layout.places).all()
    assert "\u200d" not in layout.missing


def test_lines_are_aligned_and_stand_a_leading_apart() -> None:
    for align, edge in (("left", np.min), ("right", np.max), ("centre", None)):
        layout = plain("HHH\nHI", "anton", size=0.5, leading=1.5, align=align)
        rows = np.round(layout.places[:, 1], 9)
        assert sorted(set(rows)) == [0.0, pytest.approx(0.75)]
        if edge is np.min:
            assert layout.places[rows == 0, 0].min() == pytest.approx(layout.places[rows > 0, 0].min())


def test_optical_lines_share_the_edge_of_their_ink() -> None:
    layout = plain("OO\nHH", "archivo-black", align="left", optical=True)
    for line in (0, 1):
        first = np.flatnonzero(layout.line == line)[0]
        ink = glyph_outline(layout.glyphs[first]).controls[..., 0].min() * layout.em
        assert layout.places[first, 0] + ink == pytest.approx(0, abs=1e-9)


def test_tracking_adds_the_same_room_everywhere() -> None:
    even, wide = (plain("WATER", "anton", tracking=t) for t in (0, 100))
    gained = np.diff(wide.places[:, 0]) - np.diff(even.places[:, 0])
    np.testing.assert_allclose(gained, 0.1 * even.em, atol=1e-9)


def test_kerning_comes_from_the_typeface_and_from_the_hand() -> None:
    gap = {
        kerning: np.diff(plain("AV", "playfair-display", kerning=kerning).places[:, 0])[0]
        for kerning in (True, False)
    }
    assert gap[True] < gap[False]
    by_hand = plain("AV", "playfair-display", gaps={"0": Gap(value=50)})
    assert np.diff(by_hand.places[:, 0])[0] == pytest.approx(gap[True] + 0.05 * by_hand.em)


def test_ranges_differ_in_typeface_size_tracking_and_lift_and_share_the_baseline() -> None:
    ranges = [Range(start=1, end=3, typeface="zilla-slab", size=2, tracking=100, lift=0.5)]
    layout = set_words("ABCD", Setting(typeface="anton", size=0.5), ranges, [1])
    assert [glyph.typeface for glyph in layout.glyphs] == ["anton", "zilla-slab", "zilla-slab", "anton"]
    height = np.ptp(glyph_outline(layout.glyphs[1]).controls[..., 1]) * layout.ems[1]
    assert height == pytest.approx(1.0, rel=0.03)
    assert layout.places[:, 1].tolist() == pytest.approx([0, 0.25, 0.25, 0])
    assert layout.finish.tolist() == [0, 1, 1, 0]


def test_case_changes_what_is_shown_not_where_it_comes_from() -> None:
    upper = plain("straße", "anton", case="upper")
    assert len(upper.glyphs) == 7 and upper.sources.tolist() == [0, 1, 2, 3, 4, 4, 5]
    assert plain("ABC", "anton", case="lower").glyphs == plain("abc", "anton").glyphs
    small = plain("Ab", "anton", case="small caps")
    heights = [
        np.ptp(glyph_outline(g).controls[..., 1]) * em for g, em in zip(small.glyphs, small.ems, strict=True)
    ]
    assert 0.7 * heights[0] < heights[1] < 0.95 * heights[0], (
        "its own small capitals where it has some, smaller capitals elsewhere"
    )


def test_features_are_switched_by_tag() -> None:
    joined, apart = plain("office", "zilla-slab"), plain("office", "zilla-slab", features="-liga")
    assert len(apart.glyphs) == 6 >= len(joined.glyphs)
    with pytest.raises(ValueError, match="no OpenType feature"):
        Setting(features="ligatures")


def test_other_scripts_are_shaped_by_their_rules() -> None:
    """Arabic joins and runs from right to left; Devanagari puts signs before the letter they follow."""
    arabic = plain("بحر", "amiri")
    assert arabic.missing == "" and list(arabic.sources) == [2, 1, 0]
    alone = {plain(letter, "amiri").glyphs[0] for letter in "بحر"}
    assert not set(arabic.glyphs) & alone, "letters take the shapes they have when joined"
    devanagari = plain("कि", "baloo-2")
    assert devanagari.missing == "" and len(devanagari.glyphs) == 2
    assert devanagari.glyphs[1] == plain("क", "baloo-2").glyphs[0]
    assert set(devanagari.sources.tolist()) == {0}, "one grapheme cluster"
    for words in ("ΘΑΛΑΣΣΑ", "ПАРОМ"):
        assert plain(words, "noto-sans").missing == ""


def test_lines_of_both_directions_are_ordered_as_unicode_says() -> None:
    assert levels("ab אב 12") == [0, 0, 0, 1, 1, 1, 2, 2]
    assert levels("אב ab") == [1, 1, 1, 2, 2]
    assert visual_order([0, 0, 1, 1, 0]) == [0, 1, 3, 2, 4]
    mixed = plain("ab بحر cd", "amiri")
    shown = ["ab بحر cd"[s] for s in mixed.sources.tolist()]
    assert shown == list("ab رحب cd")
    assert (np.diff(mixed.middle) >= 0).all()


@given(st.text(alphabet="abאבج12.,+%- \u0301", max_size=24))
def test_every_character_has_a_level_of_its_direction(line: str) -> None:
    found = levels(line)
    assert len(found) == len(line)
    for character, level in zip(line, found, strict=True):
        kind = unicodedata.bidirectional(character)
        if kind in ("R", "AL"):
            assert level % 2 == 1
        if kind == "L":
            assert level % 2 == 0
    assert sorted(visual_order(found)) == list(range(len(line)))


def test_missing_characters_come_from_another_typeface_or_are_named() -> None:
    borrowed = plain("AЖ", "anton", case="as typed")
    assert plain("A漢B字漢", "anton").missing == "漢字"
    assert plain("ABBA", "anton").missing == plain("ABBA", "anton").borrowed == ""
    if not typeface("anton").has("Ж"):
        assert (
            borrowed.borrowed == "Ж" and borrowed.glyphs[1].typeface == "noto-sans" and borrowed.missing == ""
        )
    heights = np.ptp(glyph_outline(plain("Aש", "anton").glyphs[0]).controls[..., 1])
    assert heights > 0


def test_an_unknown_typeface_falls_back_instead_of_failing() -> None:
    assert typeface("no-such-face").name == NAMES[0]


def test_axes_of_a_variable_typeface_move_its_letters() -> None:
    axes = {axis.tag: axis for axis in typeface("recursive").axes}
    assert {"wght", "slnt", "CASL"} <= set(axes) and axes["wght"].low < axes["wght"].high
    thin, heavy = (plain("I", "recursive", axes={"wght": Axis(value=w)}) for w in (300, 1000))
    widths = [float(np.ptp(glyph_outline(layout.glyphs[0]).controls[..., 0])) for layout in (thin, heavy)]
    assert widths[1] > 1.2 * widths[0]
    assert (
        sturdiness("recursive", (("wght", 900.0),)).stem
        > 1.5 * sturdiness("recursive", (("wght", 300.0),)).stem
    )


def test_axes_a_typeface_lacks_change_nothing() -> None:
    assert plain("A", "anton", axes={"wght": Axis(value=700)}).glyphs == plain("A", "anton").glyphs


def test_sturdiness_tells_hairlines_from_blocks() -> None:
    block, hairline = sturdiness("archivo-black"), sturdiness("playfair-display")
    assert block.holds and not hairline.holds
    assert block.thin > 0.1 > hairline.thin
    # A stem of Archivo Black is about a third of its capitals' height.
    assert block.stem == pytest.approx(0.32, abs=0.03)


@pytest.mark.parametrize("words", ["सत्य", "سلم"])
def test_tracking_does_not_tear_joined_letters_apart(words: str) -> None:
    def places(words: str, tracking: float) -> np.ndarray:
        return np.diff(set_words(words, Setting(tracking=tracking)).places[:, 0])

    np.testing.assert_allclose(places(words, 200), places(words, 0), atol=1e-9)
    assert (places("EBB", 200) > places("EBB", 0) + 0.01).all()
