"""Vector drawings read, bitmaps traced, meshes imported: against known areas and shapes."""

from __future__ import annotations

import io
import math
import struct
import zipfile
import zlib

import cv2
import numpy as np
import pathops
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from manifold3d import CrossSection, FillRule

from dreizack.core.artwork.coverage import covered, put_right
from dreizack.core.artwork.fit import fitted
from dreizack.core.artwork.meshes import packed, unpacked
from dreizack.core.artwork.path_data import data_from_outline, outline_from_data
from dreizack.core.artwork.svg import drawing, transform
from dreizack.core.artwork.trace import TraceWish, outlines, read_picture
from dreizack.core.document import Mark, Mesh, Piece
from dreizack.core.document.path_data import plain_path
from dreizack.core.form import examine, flatten
from dreizack.core.lettering import Outline
from dreizack.core.lettering.union import simplified
from dreizack.core.library import keep, shelve
from dreizack.core.scene import BodyStore, Form


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


def picture(size: int = 400) -> np.ndarray:
    image = np.full((size, size, 4), 255, np.uint8)
    cv2.circle(image, (size // 2, size // 2), size // 3, (0, 0, 0, 255), -1, cv2.LINE_AA)
    cv2.circle(image, (size // 2, size // 2), size // 6, (255, 255, 255, 255), -1, cv2.LINE_AA)
    return image


def test_a_traced_ring_has_the_area_of_the_ring_and_few_points() -> None:
    found = outlines(picture(), TraceWish())
    truth = math.pi * ((1 / 3) ** 2 - (1 / 6) ** 2) / (2 / 3) ** 2
    assert area(outline_from_data(found["path"])) == pytest.approx(truth, rel=0.01)
    assert found["points"] <= 24
    left, top, right, bottom = found["box"]
    # A disc about the middle of pixel 200 reaches from 200.5 - r to 200.5 + r.
    assert (left, top, right, bottom) == pytest.approx(
        (67.5 / 400, 67.5 / 400, 333.5 / 400, 333.5 / 400), abs=0.002
    )


def test_a_traced_square_keeps_its_corners() -> None:
    image = np.full((300, 300, 4), 255, np.uint8)
    image[60:240, 60:240, :3] = 0
    found = outlines(image, TraceWish(smooth=0.5))
    assert found["points"] <= 12
    outline = outline_from_data(found["path"])
    corners = outline.controls[:, 0]
    for corner in ((-0.5, 0), (0.5, 0), (0.5, 1), (-0.5, 1)):
        assert np.linalg.norm(corners - corner, axis=1).min() < 0.012


@given(st.floats(0, 90))
@settings(max_examples=20)
def test_straight_sides_stay_straight_and_meet_where_they_would(degrees: float) -> None:
    turn = np.exp(1j * np.radians(degrees))
    corners = 200 + 200j + turn * 90 * np.array([-1 - 1j, 1 - 1j, 1 + 1j, -1 + 1j])
    ring = np.column_stack([corners.real, corners.imag])
    image = np.full((1600, 1600, 3), 255, np.uint8)
    cv2.fillPoly(image, [np.round((ring + 0.5) * 4 * 16).astype(np.int32)], (0, 0, 0), cv2.LINE_8, 4)
    small = cv2.cvtColor(cv2.resize(image, (400, 400), interpolation=cv2.INTER_AREA), cv2.COLOR_BGR2BGRA)
    found = outlines(small, TraceWish(smooth=1.5, corner=40))
    assert found["path"].count("L") == 4 and found["points"] == 4
    path = outline_from_data(found["path"]).controls[:, 0]
    tall, middle = np.ptp(ring[:, 1]), (ring[:, 0].max() + ring[:, 0].min()) / 2
    truth = np.column_stack([(ring[:, 0] - middle) / tall, (ring[:, 1].max() - ring[:, 1]) / tall])
    assert np.linalg.norm(path[:, None] - truth[None], axis=2).min(axis=1).max() < 0.025


def filled(
    *polygons: list[tuple[float, float]], side: int = 256, fine: int = 16
) -> tuple[np.ndarray, np.ndarray]:
    """A picture of polygons, anti-aliased, and the truth ``fine`` times as large."""
    large = np.zeros((side * fine, side * fine), bool)
    for polygon in polygons:
        large |= covered([np.array(polygon) * fine], (side * fine, side * fine)) > 0.5
    share = large.reshape(side, fine, side, fine).mean(axis=(1, 3))
    small = np.round(255 * (1 - share)).astype(np.uint8)
    return cv2.cvtColor(cv2.cvtColor(small, cv2.COLOR_GRAY2BGR), cv2.COLOR_BGR2BGRA), large


def likeness(found: dict, truth: np.ndarray) -> float:
    """Intersection over union of what was traced and the truth."""
    lines, side = flatten([outline_from_data(found["path"])], 1.0, 1e-4), truth.shape[0]
    left, top, right, bottom = (edge * side for edge in found["box"])
    places = lines.points * [1, -1] * (bottom - top) + [(left + right) / 2, bottom]
    made = covered([places[lines.contour == k] for k in np.unique(lines.contour)], (side, side)) > 0.5
    return float((truth & made).sum() / (truth | made).sum())


def box(x: float, y: float, width: float, height: float) -> list[tuple[float, float]]:
    return [(x, y), (x + width, y), (x + width, y + height), (x, y + height)]


@pytest.mark.parametrize("width", [2, 3, 4, 5])
@pytest.mark.parametrize("off", [0.0, 0.25, 0.5])
def test_letters_of_thin_strokes_keep_their_arms_and_corners(width: int, off: float) -> None:
    x, y = 80 + off, 60 + off
    arms = [box(x, y, 70, width), box(x, y + 58, 60, width), box(x, y + 120 - width, 70, width)]
    picture, truth = filled(box(x, y, width, 120), *arms)
    found = outlines(picture, TraceWish())
    assert found["points"] == 12
    assert likeness(found, truth) >= 0.99


def stroke(width: int, degrees: float, off: complex) -> list[tuple[float, float]]:
    """Corners of a stroke 160 pixels long."""
    ahead = np.exp(1j * np.radians(degrees)) * 80
    beside = 1j * ahead / abs(ahead) * width / 2
    corners = 128 + 128j + off + np.array([-ahead - beside, ahead - beside, ahead + beside, -ahead + beside])
    return [(c.real, c.imag) for c in corners]


@pytest.mark.parametrize("width", [2, 3, 4, 6])
def test_thin_strokes_are_found_at_any_angle_and_between_pixels(width: int) -> None:
    alike = []
    for degrees in (0, 17, 84):
        for off in (0j, 0.5 + 0.5j, 0.3 - 0.2j):
            picture, truth = filled(stroke(width, degrees, off))
            alike.append(likeness(outlines(picture, TraceWish()), truth))
    assert np.median(alike) > 0.995 and min(alike) >= (0.96 if width == 2 else 0.99)


@pytest.mark.parametrize("level", [0.3, 0.7])
def test_a_level_beside_the_middle_makes_strokes_wider_or_narrower(level: float) -> None:
    picture, truth = filled(stroke(6, 17, 0.3 - 0.2j))
    wish = TraceWish(level=level)
    alike = likeness(outlines(picture, wish), truth)
    assert alike < 0.97
    assert likeness(outlines(picture, TraceWish()), truth) > alike


def test_pictures_of_many_tones_are_traced_as_they_are() -> None:
    ramp = np.tile(np.linspace(0, 255, 256).astype(np.uint8), (256, 1))
    ramp[100:110, 40:60] = 0
    assert put_right([np.array([[0.0, 0.0], [128, 0], [128, 256], [0, 256]])], 0.5 - ramp / 255) is None
    assert outlines(cv2.cvtColor(ramp, cv2.COLOR_GRAY2BGRA), TraceWish())["points"] >= 4


@given(st.lists(st.tuples(st.floats(-3, 15), st.floats(-3, 11)), min_size=3, max_size=9))
@settings(max_examples=30, deadline=None)
def test_what_polygons_cover_is_what_a_fine_grid_says(corners: list[tuple[float, float]]) -> None:
    hull = cv2.convexHull(np.array(corners, np.float32))[:, 0].astype(np.float64)
    if len(hull) < 3:
        return
    made = covered([hull], (12, 8))
    fine = 24
    y, x = (np.mgrid[: 8 * fine, : 12 * fine] + 0.5) / fine
    ahead = np.roll(hull, -1, axis=0) - hull
    sides = [dx * (y - by) - dy * (x - bx) for (bx, by), (dx, dy) in zip(hull, ahead, strict=True)]
    inside = np.all(np.array(sides) >= 0, axis=0) | np.all(np.array(sides) <= 0, axis=0)
    expected = inside.reshape(8, fine, 12, fine).mean(axis=(1, 3))
    np.testing.assert_allclose(made, expected, atol=0.06)
    # A hole turns the other way.
    hole = np.array([[4.25, 3.5], [4.25, 5.0], [6.5, 5.0], [6.5, 3.5]])
    around = np.array([[0.0, 0.0], [12, 0], [12, 8], [0, 8]])
    assert covered([around, hole], (12, 8)).sum() == pytest.approx(96 - 2.25 * 1.5)


@pytest.mark.parametrize("radius", [20, 90])
def test_a_hexagon_has_six_corners_and_straight_sides(radius: float) -> None:
    turns = np.arange(6) * math.pi / 3 + 0.2
    picture, truth = filled([(128 + radius * math.cos(t), 128 + radius * math.sin(t)) for t in turns])
    found = outlines(picture, TraceWish())
    assert found["path"].count("L") == found["points"] == 6
    assert likeness(found, truth) > 0.99


def test_speckles_go_and_alpha_and_colour_choose() -> None:
    image = picture()
    image[10:13, 10:13, :3] = 0
    assert outlines(image, TraceWish(speckle=50))["points"] < outlines(image, TraceWish(speckle=1))["points"]
    image = np.zeros((200, 200, 4), np.uint8)
    image[50:150, 50:150] = (0, 0, 255, 255)
    image[150:160, 50:150] = (255, 0, 0, 255)
    by_alpha, by_colour = (
        outlines(image, TraceWish(by="alpha")),
        outlines(image, TraceWish(by="colour", colour=(1.0, 0, 0), level=0.2)),
    )
    assert by_alpha["box"][3] == pytest.approx(0.8, abs=0.01) and by_colour["box"][3] == pytest.approx(
        0.75, abs=0.01
    )
    with pytest.raises(ValueError, match="nothing is left"):
        outlines(np.full((50, 50, 4), 255, np.uint8), TraceWish())


@given(st.floats(0.5, 6), st.integers(30, 300))
def test_fitted_curves_stay_near_their_points(tolerance: float, count: int) -> None:
    angle = np.linspace(0, 2 * np.pi, count, endpoint=False)
    ring = np.column_stack([np.cos(angle) * 100, np.sin(angle) * 60])
    curves = fitted(ring, 60, tolerance)
    t = np.linspace(0, 1, 12)[:, None, None]
    a, b, c, d = (curves[:, i] for i in range(4))
    points = ((1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t**2 * c + t**3 * d).reshape(-1, 2)
    away = np.abs(np.hypot(points[:, 0] / 100, points[:, 1] / 60) - 1) * 60
    assert away.max() < tolerance * 1.6 + 100 * (1 - np.cos(np.pi / count))
    # Closed: every curve begins where the one before ends.
    np.testing.assert_allclose(curves[:, 0], np.roll(curves[:, 3], 1, axis=0), atol=1e-9)


def bomb() -> bytes:
    """A PNG that states 100000 × 100000 pixels."""
    head = struct.pack(">IIBBBBB", 100_000, 100_000, 8, 2, 0, 0, 0)

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    return (
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", head)
        + chunk(b"IDAT", zlib.compress(b"\0" * 1000))
        + chunk(b"IEND", b"")
    )


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (bomb(), "million pixels"),
        (b"", "no PNG"),
        (b"GIF89a", "no PNG"),
        (b"\x89PNG\r\n\x1a\n", "damaged"),
        (b"\xff\xd8\xff\xe0junk", "damaged"),
    ],
)
def test_bad_pictures_get_a_sentence(data: bytes, says: str) -> None:
    with pytest.raises(ValueError, match=says):
        read_picture(data)


@settings(max_examples=40)
@given(st.integers(0, 4000), st.integers(0, 255), st.integers(1, 3000))
def test_damaged_pictures_are_read_or_refused(place: int, value: int, length: int) -> None:
    data = bytearray(cv2.imencode(".png", picture(64))[1].tobytes())
    data[place % len(data)] = value
    try:
        read_picture(bytes(data[:length]) if length < len(data) else bytes(data))
    except ValueError:
        return


# Meshes


@pytest.mark.parametrize("kind", ["obj", "ply", "stl", "glb"])
def test_meshes_keep_their_shape_and_get_sound_normals(kind: str) -> None:
    ball = trimesh.creation.icosphere(subdivisions=3, radius=2.0)
    data = ball.export(file_type=kind)
    found = unpacked(packed(data if isinstance(data, bytes) else data.encode(), kind))
    position, normal, uv, triangles = found.parts[0]
    assert len(triangles) == len(ball.faces) and len(uv) == len(position)
    np.testing.assert_allclose(np.linalg.norm(position, axis=1), 2, rtol=1e-4)
    assert np.sum(normal * position / 2, axis=1).min() > 0.99


def test_a_box_without_normals_keeps_its_edges() -> None:
    found = unpacked(packed(trimesh.creation.box((1, 1, 1)).export(file_type="stl"), "stl"))
    assert np.allclose(np.abs(found.parts[0][1]).max(axis=1), 1)


def test_an_obj_brings_its_materials_in_a_zip() -> None:
    obj = "mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nv 1 1 0\nusemtl red\nf 1 2 3\nusemtl blue\nf 2 4 3\n"
    mtl = "newmtl red\nKd 1 0 0\nnewmtl blue\nKd 0 0 1\n"
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("folder/a.obj", obj)
        archive.writestr("folder/a.mtl", mtl)
    found = unpacked(packed(out.getvalue(), "zip"))
    assert sorted(found.names) == ["blue", "red"]
    reds = [
        f["base_colour"]["r"]
        for _, f in sorted(zip(found.names, found.finishes, strict=True), key=lambda pair: pair[0])
    ]
    assert reds == [pytest.approx(0, abs=0.01), pytest.approx(1, abs=0.01)]


@pytest.mark.parametrize(
    ("data", "kind"),
    [
        (b"", "obj"),
        (b"v 0 0 0\nf 1 2 3\n", "obj"),
        (b"v nan 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "obj"),
        (b"ply\nformat", "ply"),
        (b"glTF", "glb"),
        (b"PK\x03\x04", "zip"),
        (b"solid x", "stl"),
    ],
)
def test_bad_meshes_get_a_sentence(data: bytes, kind: str) -> None:
    with pytest.raises(ValueError, match=r"\w"):
        packed(data, kind)


# As things


def test_marks_have_closed_bodies_of_their_height() -> None:
    mark = Mark(
        size=0.4,
        pieces=[
            Piece(path="M-0.5 0L0.5 0L0.5 1L-0.5 1ZM-0.2 0.3L-0.2 0.7L0.2 0.7L0.2 0.3Z"),
            Piece(path="M0.6 0C0.6 1 1 1 1 0Z"),
        ],
    )
    bodies = BodyStore()
    letters = bodies.letters(Form(mark))
    assert len(letters) == 2
    for letter in letters:
        body = bodies.get(letter.body)
        assert body is not None and examine(body).open_edges == 0
    first = bodies.get(letters[0].body)
    assert first is not None and np.ptp(first.position[:, 1]) == pytest.approx(0.4, rel=1e-4)
    with pytest.raises(ValueError, match="path data"):
        Piece(path="M0 0 nonsense")


def test_an_imported_mesh_is_turned_scaled_and_set_on_its_foot(tmp_path: object) -> None:
    import pathlib

    folder = pathlib.Path(str(tmp_path))
    shelve(folder)
    box = trimesh.creation.box((10, 20, 40))
    name = keep(folder, packed(box.export(file_type="stl"), "stl"), "mesh", "mesh")
    bodies = BodyStore()
    body = bodies.get(bodies.letters(Form(Mesh(file=name, unit="cm", up="z")))[0].body)
    assert body is not None
    np.testing.assert_allclose(np.ptp(body.position, axis=0), [0.1, 0.4, 0.2], rtol=1e-4)
    assert body.position[:, 1].min() == pytest.approx(0, abs=1e-6)
    fitted_body = bodies.get(bodies.letters(Form(Mesh(file=name, fitted=2.0)))[0].body)
    assert fitted_body is not None and np.ptp(fitted_body.position, axis=0).max() == pytest.approx(2)
    assert bodies.letters(Form(Mesh(file="mesh-not-there.mesh"))) == []
