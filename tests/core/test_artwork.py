"""Drawings: SVG and path data, and what is listed or refused."""

from __future__ import annotations

import math

import numpy as np
import pathops
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from manifold3d import CrossSection, FillRule

from dreizack.core.artwork.path_data import data_from_outline, outline_from_data
from dreizack.core.artwork.svg import drawing, transform
from dreizack.core.document.path_data import plain_path
from dreizack.core.form import flatten
from dreizack.core.lettering import Outline
from dreizack.core.lettering.union import simplified


def area(outline: Outline) -> float:
    contours = flatten([outline], 1.0, 1e-5)
    if not len(contours.points):
        return 0.0
    return float(
        CrossSection(
            np.split(contours.points, np.flatnonzero(np.diff(contours.contour)) + 1), FillRule.Positive
        ).area()
    )


def svg(inside: str, attributes: str = "") -> bytes:
    return (
        '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" '
        f"{attributes}>{inside}</svg>"
    ).encode()


def shapes(inside: str) -> list[float]:
    """Areas of the pieces in units of the drawing, whose height a frame of 100 gives."""
    frame = '<path d="M0 0h.01v.01h-.01zM0 100h.01v-.01h-.01z"/>'
    found = drawing(svg(f"{frame}{inside}"))
    return [area(outline_from_data(piece.path)) * 100**2 for piece in found.pieces[1:]]


@pytest.mark.parametrize(
    ("inside", "truth"),
    [
        ('<rect x="10" y="10" width="30" height="20"/>', 600),
        ('<rect x="10" y="10" width="30" height="20" rx="5"/>', 600 - (4 - math.pi) * 25),
        ('<circle cx="50" cy="50" r="20"/>', math.pi * 400),
        ('<ellipse cx="50" cy="50" rx="20" ry="10"/>', math.pi * 200),
        ('<polygon points="0,0 30,0 0,40"/>', 600),
        ('<path d="M10 10h40v40h-40z M20 20h20v20h-20z" fill-rule="evenodd"/>', 1200),
        ('<path d="M10 10h40v40h-40z M20 20h20v20h-20z"/>', 1600),
        ('<path d="M10 10h40v40h-40z M20 20v20h20v-20z"/>', 1200),
        ('<path d="m10,10 l40,0 0,40 -40,0z"/>', 1600),
        ('<path d="M30 50 A20 20 0 1 1 70 50 A20 20 0 1 1 30 50"/>', math.pi * 400),
        ('<path d="M30 50a20 20 0 1140 0a20 20 0 11-40 0"/>', math.pi * 400),
        ('<path d="M0 0Q50 100 100 0Z"/>', 100 * 50 * 2 / 3),
        ('<path d="M0 0C0 40 60 40 60 0Z"/>', 60 * 40 * 0.6),
        ('<line x1="10" y1="10" x2="60" y2="10" stroke="black" stroke-width="4"/>', 200),
        (
            '<line x1="10" y1="50" x2="60" y2="50" stroke="black" stroke-width="4" stroke-linecap="round"/>',
            200 + math.pi * 4,
        ),
        ('<rect width="10" height="10" transform="translate(5 5) scale(2) rotate(30)"/>', 400),
        ('<g transform="scale(2)"><g transform="skewX(20)"><rect width="10" height="10"/></g></g>', 400),
        (
            '<g style="fill:none;stroke:#000;stroke-width:2"><rect x="10" y="10" width="20" '
            'height="20"/></g>',
            22**2 - 18**2,
        ),
        (
            '<style>.a{fill:none} #b{stroke:red;stroke-width:2}</style><rect class="a" id="b" x="10" y="10" '
            'width="20" height="20"/>',
            22**2 - 18**2,
        ),
        (
            '<clipPath id="c"><circle cx="50" cy="50" r="20"/></clipPath><rect x="50" y="0" width="50" '
            'height="100" clip-path="url(#c)"/>',
            math.pi * 200,
        ),
        ('<defs><rect id="r" width="10" height="10"/></defs><use xlink:href="#r" x="20" y="20"/>', 100),
        ('<symbol id="s"><rect width="10" height="10"/></symbol><use href="#s" transform="scale(3)"/>', 900),
    ],
)
def test_shapes_have_the_area_geometry_gives_them(inside: str, truth: float) -> None:
    assert sum(shapes(inside)) == pytest.approx(truth, rel=4e-3)


def test_what_is_painted_over_is_cut_away() -> None:
    below, above = shapes(
        '<rect width="40" height="40" fill="#f00"/><rect x="20" width="40" height="40" fill="#00f"/>'
    )
    assert (below, above) == (pytest.approx(800, rel=1e-3), pytest.approx(1600, rel=1e-3))


def test_groups_are_letters_and_fills_are_finishes() -> None:
    found = drawing(
        svg(
            '<g><rect width="4" height="4" fill="red"/><rect x="6" width="4" height="4" fill="red"/></g>'
            '<g><rect x="20" width="4" height="4" fill="rgb(0,0,255)"/><rect x="26" width="4" height="4" '
            'fill="red"/></g>'
        )
    )
    assert len(found.pieces) == 3 and found.colours == [(1, 0, 0), (0, 0, 1)]
    assert [piece.colour for piece in found.pieces] == [0, 1, 0]


def test_markers_and_rules_that_are_not_read_are_listed() -> None:
    found = drawing(
        b"<svg xmlns='http://www.w3.org/2000/svg'><style>rect:has(g) { fill: red } rect { fill: #000 }"
        b"</style><rect width='4' height='4'/><path d='M0 9H9' stroke='black' marker-end='url(#m)'/></svg>"
    )
    assert any("markers" in one for one in found.left_out)
    small = drawing(
        b"<svg xmlns='http://www.w3.org/2000/svg'><circle r='1' stroke='black' fill='none'/></svg>"
    )
    outline = outline_from_data(small.pieces[0].path)
    # A ring between radii 0.5 and 1.5, as high as 1, whatever its size in the drawing.
    assert area(outline) == pytest.approx(np.pi * (1.5**2 - 0.5**2) / 9, rel=2e-3)


def test_what_is_left_out_is_listed() -> None:
    found = drawing(
        svg(
            '<rect width="9" height="9" filter="url(#f)"/><text>EBB</text><image '
            'href="x.png"/><script>alert(1)</script>'
            '<linearGradient id="g"><stop stop-color="red"/></linearGradient><circle r="3" '
            'fill="url(#g)"/><use href="other.svg#a"/>'
        )
    )
    text = " ".join(found.left_out)
    for what in ("filters", "text", "pictures", "scripts", "gradients", "references"):
        assert what in text


BOMB = b'<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;">]>'
BOMB += b'<svg xmlns="http://www.w3.org/2000/svg"><title>&b;</title><rect width="1" height="1"/></svg>'
OUTSIDE = b'<!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]><svg xmlns="http://www.w3.org/2000/svg"><text>&x;</text></svg>'


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (BOMB, "entities"),
        (OUTSIDE, "entities"),
        (b"", "no well-formed"),
        (b"<svg", "no well-formed"),
        (b"<html/>", "no SVG"),
        (svg(""), "nothing"),
        (svg('<path d="M0 0L1e400 0L1 1Z"/>'), "nothing"),
        (svg('<path d="M0 0Lnan nan Z"/>'), "nothing"),
        (svg('<path d="M0 0L5 0L10 0Z"/>'), "nothing"),
        (svg("<g>" * 80 + '<rect width="1" height="1"/>' + "</g>" * 80), "nested"),
        (svg('<path d="M0 0' + "L1 1L2 0" * 260_000 + 'Z"/>'), "points"),
        (svg('<use id="u" href="#u"/>'), "nested"),
        (b"\x89PNG\r\n\x1a\n", "no well-formed"),
    ],
)
def test_bad_drawings_get_a_sentence(data: bytes, says: str) -> None:
    with pytest.raises(ValueError, match=says):
        drawing(data)


@settings(max_examples=60)
@given(st.text(alphabet="MmLlHhVvCcSsQqTtAaZz0123456789.,-+e ", max_size=120))
def test_any_path_data_is_read_or_refused(data: str) -> None:
    try:
        found = drawing(svg(f'<path d="{data}" stroke="black"/><rect width="3" height="3"/>'))
    except ValueError:
        return
    for piece in found.pieces:
        assert np.isfinite(outline_from_data(piece.path).controls).all()


@given(
    st.lists(st.tuples(*[st.floats(-50, 50)] * 6), min_size=2, max_size=60),
    st.booleans(),
    st.sampled_from([" ", ",", " , "]),
)
def test_curves_mean_the_same_however_they_are_written(
    curves: list[tuple[float, ...]], relative: bool, between: str
) -> None:
    """One command each, all under one command, and as tightly as numbers can be written."""
    numbers = [[f"{v:.3f}" for v in curve] for curve in curves]
    letter = "c" if relative else "C"
    spread = "".join(letter + between.join(n) for n in numbers)
    together = letter + between.join(v for n in numbers for v in n)
    tight = "".join(letter + "".join(v if v.startswith("-") else f"+{v}" for v in n) for n in numbers)
    read = []
    for written in (spread, together, tight):
        try:
            read.append(drawing(svg(f'<path d="M0 0{written}Z"/><rect x="200" width="9" height="9"/>')))
        except ValueError as why:
            read.append(str(why))
    assert read[0] == read[1] == read[2]


def test_what_curves_are_too_tangled_for_is_united_as_polygons(monkeypatch: pytest.MonkeyPatch) -> None:
    """Two discs that overlap and a hole, as curves and with path arithmetic that gives up."""
    discs = pathops.Path()
    k = 0.5522847
    for x, radius, turn in ((0, 100, 1), (120, 100, 1), (0, 40, -1)):
        discs.moveTo(x + radius, 0)
        for a, b in ((1, 0), (0, 1), (-1, 0), (0, -1)):
            curve = (a - k * b, b + k * a), (-b + k * a, a + k * b), (-b, a)
            discs.cubicTo(*(v for u, w in curve for v in (x + radius * u, turn * radius * w)))
        discs.close()
    exact = simplified(discs)

    class Tangled(pathops.Path):
        def simplify(self, **_: object) -> None:
            raise pathops.PathOpsError("simplify operation did not succeed")

    monkeypatch.setattr("dreizack.core.lettering.union.pathops.Path", Tangled)
    rough = simplified(discs)
    assert len(list(rough.contours)) == len(list(exact.contours)) == 2
    assert abs(rough.area) == pytest.approx(abs(exact.area), rel=2e-3)


def test_transforms_are_those_of_the_standard() -> None:
    np.testing.assert_allclose(transform("rotate(90, 10, 20)") @ [10, 20, 1], [10, 20, 1], atol=1e-12)
    np.testing.assert_allclose(transform("matrix(1 2 3 4 5 6)") @ [1, 1, 1], [9, 12, 1])
    np.testing.assert_allclose(transform("translate(3) scale(2,3)") @ [1, 1, 1], [5, 3, 1])
    np.testing.assert_allclose(transform("nonsense(1) rotate(x)"), np.eye(3))


def test_path_data_and_outlines_are_each_others_inverse() -> None:
    once = outline_from_data("M0 0C0.2 0.5 0.8 0.5 1 0L1 -1L0 -1ZM3 0H4V1H3Z")
    written = data_from_outline(once)
    assert written.count("M") == written.count("Z") == 2
    again = outline_from_data(written)
    assert area(once) == pytest.approx(area(again), rel=1e-4)


@given(st.text(alphabet="MmLlHhVvCcQqAaZz0123456789.,- ", max_size=60))
def test_plain_path_data_is_the_same_outline(data: str) -> None:
    try:
        outline = outline_from_data(data)
    except ValueError:
        return
    plain = plain_path(data)
    assert set(plain) <= set("MLCZ0123456789.,-+e ") and plain_path(plain) == plain
    assert area(outline_from_data(plain)) == pytest.approx(area(outline), rel=1e-3, abs=1e-2)


# Tracing
