"""Pictures traced to outlines, against shapes that are known."""

from __future__ import annotations

import math
import struct
import zlib

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dreizack.core.artwork.coverage import covered, put_right
from dreizack.core.artwork.fit import fitted
from dreizack.core.artwork.path_data import outline_from_data
from dreizack.core.artwork.trace import TraceWish, outlines, read_picture
from dreizack.core.form import flatten

from .test_artwork import area


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
