"""Flat areas whose way is known are followed; covers hide exactly what lies inside them."""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

from dreizack.core.match import (
    Followed,
    NoPatch,
    Unsound,
    drawn_at,
    follow_plane,
    followed_bytes,
    matte,
    read_followed,
    rounded,
    through,
)
from dreizack.core.scene.baking.covering import square_to

Floats = NDArray[np.float64]
SIZE = np.array([480, 270])
AREA = np.array([[160.0, 80], [310, 88], [300, 190], [168, 182]])
FRAMES = 14


def filmed(
    noise: float = 2.0, passing: bool = False, gone: int | None = None
) -> tuple[list[NDArray[np.uint8]], Floats]:
    """Pictures of a flat area that turns and comes nearer before something else, and homographies (frames, 3,
    3) in pixels from the first; something may pass before it, or it may be gone from a frame on."""
    random = np.random.default_rng(3)
    width, height = SIZE

    def texture(smooth: float) -> Floats:
        made = cv2.GaussianBlur(random.uniform(0, 255, (height, width)), (0, 0), smooth)
        return (made - made.min()) / np.ptp(made) * 200 + 20

    flat, behind = texture(2.2), texture(3.0)
    pictures, ways = [], []
    for k in range(FRAMES):
        t = k / (FRAMES - 1)
        there = AREA + t * np.array([[40, 8], [55, -14], [40, 26], [46, 14]])
        way = cv2.getPerspectiveTransform(AREA.astype(np.float32), there.astype(np.float32)).astype(float)
        ways.append(way)
        wide = through(way, (AREA - AREA.mean(axis=0)) * 1.25 + AREA.mean(axis=0))
        inside = cv2.fillPoly(np.zeros((height, width)), [np.rint(wide).astype(np.int32)], 1.0)
        seen = cv2.warpPerspective(flat, way, (int(width), int(height)), flags=cv2.INTER_CUBIC)
        made = behind * (1 - inside) + (seen * (1 - 0.2 * t) + 5 * t) * inside
        if passing:
            cv2.rectangle(made, (int(120 + 180 * t), 30), (int(150 + 180 * t), 240), (30.0,), -1)
        if gone is not None and k >= gone:
            made = behind.copy()
        pictures.append(np.clip(made + random.normal(0, noise, made.shape), 0, 255).astype(np.uint8))
    return pictures, np.array(ways)


def shares(pixels: Floats) -> Floats:
    return (pixels + 0.5) / SIZE


def slid(followed: Followed, ways: Floats, reference: int = 0) -> Floats:
    """By how many pixels its corners are off (frames,), root of the mean square."""
    start = shares(through(ways[reference], AREA))
    found = followed.carried(start, reference, np.arange(len(ways), dtype=float)) * SIZE - 0.5
    off: Floats = np.sqrt(((found - through(ways, AREA)) ** 2).sum(axis=2).mean(axis=1))
    return off


@pytest.mark.parametrize(
    ("noise", "passing", "bar"), [(2.0, False, 0.1), (6.0, False, 0.15), (2.0, True, 0.25)]
)
def test_a_flat_area_is_followed(noise: float, passing: bool, bar: float) -> None:
    pictures, ways = filmed(noise, passing)
    followed = follow_plane(pictures.__getitem__, FRAMES, 0, shares(AREA))
    assert (followed.alike > 0.9).all()
    assert float(np.sqrt((slid(followed, ways) ** 2).mean())) < bar


def test_it_is_followed_both_ways_from_where_it_was_drawn() -> None:
    pictures, ways = filmed()
    followed = follow_plane(pictures.__getitem__, FRAMES, 7, shares(through(ways[7], AREA)))
    assert followed.reference == 7
    assert float(np.sqrt((slid(followed, ways, 7) ** 2).mean())) < 0.12


def test_it_says_from_where_on_it_is_lost() -> None:
    pictures, _ = filmed(gone=9)
    followed = follow_plane(pictures.__getitem__, FRAMES, 0, shares(AREA))
    assert (followed.alike[:9] > 0.9).all() and (followed.alike[9:] == 0).all()
    assert np.array_equal(followed.homographies[9], followed.homographies[8])


def test_an_area_that_changes_faster_than_things_do_is_lost() -> None:
    """After a cut to a wider view the same texture is seen, but nothing in the room moves so."""
    pictures, _ = filmed()
    width, height = SIZE
    wider = cv2.getRotationMatrix2D((235.0, 135.0), 0, 0.76)
    cut = [cv2.warpAffine(one, wider, (int(width), int(height)), borderValue=90) for one in pictures[9:]]
    followed = follow_plane([*pictures[:9], *cut].__getitem__, FRAMES, 0, shares(AREA))
    assert (followed.alike[:9] > 0.9).all() and (followed.alike[9:] == 0).all()


@pytest.mark.parametrize(
    ("outline", "says"),
    [
        (np.array([[0.5, 0.5], [0.51, 0.5], [0.51, 0.51]]), "too small"),
        (np.array([[2.0, 2.0], [3.0, 2.0], [3.0, 3.0]]), "outside the picture"),
        (np.array([[0.0, 0.0], [0.4, 0.0], [0.4, 0.4], [0.0, 0.4]]), "no texture"),
    ],
)
def test_what_cannot_be_followed_says_why(outline: Floats, says: str) -> None:
    plain = np.full((270, 480), 90, np.uint8)
    with pytest.raises(NoPatch, match=says):
        follow_plane(lambda _: plain, 3, 0, outline)


def test_stripes_that_hide_a_movement_along_them_are_refused_in_words() -> None:
    """Along them a move leaves no sign, so that any answer would be made up."""
    rows = np.arange(270)[:, None]
    stripes = np.broadcast_to(128 + 60 * np.sin(rows / 3), (270, 480))
    random = np.random.default_rng(1)
    pictures = [
        np.clip(stripes + random.normal(0, 2, stripes.shape), 0, 255).astype(np.uint8) for _ in range(3)
    ]
    with pytest.raises(NoPatch, match="too little texture"):
        follow_plane(pictures.__getitem__, 3, 0, shares(AREA))


@pytest.mark.parametrize("strength", [4.0, 8.0, 16.0])
def test_faint_texture_does_not_make_an_area_wander(strength: float) -> None:
    """A wall with few faint marks that moves straight on: what its texture cannot tell is not followed, so
    that it stays where it is, or it is refused."""
    random = np.random.default_rng(5)
    marks = cv2.GaussianBlur(random.normal(0, 1, (400, 700)), (0, 0), 6)
    wall = 120 + strength * marks / marks.std()
    pictures, ways = [], []
    for k in range(FRAMES):
        way = np.array([[1, 0, 1.7 * k], [0, 1, -0.6 * k], [0, 0, 1.0]])
        seen = cv2.warpPerspective(wall, way @ np.array([[1, 0, -100], [0, 1, -60], [0, 0, 1.0]]), (480, 270))
        pictures.append(np.clip(seen + random.normal(0, 2.5, seen.shape), 0, 255).astype(np.uint8))
        ways.append(way)
    try:
        followed = follow_plane(pictures.__getitem__, FRAMES, 0, shares(AREA))
    except NoPatch:
        assert strength < 8
        return
    assert slid(followed, np.array(ways)).max() < 1.5


def test_what_was_followed_is_read_back(tmp_path: Path) -> None:
    ways = np.tile(np.eye(3), (4, 1, 1))
    ways[:, 0, 2] = np.arange(4) / 10
    path = tmp_path / "a.track"
    path.write_bytes(followed_bytes(Followed(1, ways, np.array([0.9, 1, 0.8, 0]))))
    back = read_followed(path)
    assert back.reference == 1 and np.array_equal(back.homographies, ways)
    assert back.alike.tolist() == [0.9, 1.0, 0.8, 0.0]


@pytest.mark.parametrize("harm", ["cut", "noise", "singular", "reference"])
def test_files_that_are_none_are_refused(tmp_path: Path, harm: str) -> None:
    ways = np.tile(np.eye(3), (4, 1, 1))
    if harm == "singular":
        ways[2] = 0
    data = followed_bytes(Followed(9 if harm == "reference" else 1, ways, np.ones(4)))
    path = tmp_path / "a.track"
    path.write_bytes({"cut": data[: len(data) // 2], "noise": b"PK\x03\x04" + b"x" * 300}.get(harm, data))
    with pytest.raises(Unsound):
        read_followed(path)


corner = st.tuples(st.floats(12, 68), st.floats(12, 48))


def area_of(outline: Floats) -> float:
    x, y = outline.T
    return abs(float(x @ np.roll(y, -1) - y @ np.roll(x, -1))) / 2


@given(st.lists(corner, min_size=3, max_size=3))
def test_a_matte_takes_up_the_area_of_its_outline(corners: list[tuple[float, float]]) -> None:
    outline = np.array(corners)
    round_it = float(np.linalg.norm(outline - np.roll(outline, 1, axis=0), axis=1).sum())
    found = matte(outline[None], (80, 60), 0.0, 0.0, 1.0)
    assert found.shape == (60, 80) and 0 <= found.min() <= found.max() <= 1
    # A quarter of a pixel's row along the outline, at most.
    assert abs(float(found.sum()) - area_of(outline)) < 0.06 * round_it + 0.5


def test_soft_grown_and_moving_mattes() -> None:
    square = np.array([[20.0, 20], [60, 20], [60, 40], [20, 40]])
    size = (80, 60)
    soft = matte(square[None], size, 0.0, 8.0, 1.0)
    assert float(soft.sum()) == pytest.approx(800, rel=0.01)
    assert float(soft[30, 19:21].mean()) == pytest.approx(0.5, abs=0.03) and soft[30, 40] == pytest.approx(
        1, abs=0.01
    )
    assert float(matte(square[None], size, 3.0, 0.0, 1.0)[30].sum()) == pytest.approx(46, abs=0.6)
    assert float(matte(square[None], size, -3.0, 0.0, 1.0)[30].sum()) == pytest.approx(34, abs=0.6)
    assert float(matte(square[None], size, 0.0, 0.0, 0.25).max()) == pytest.approx(0.25)
    # Open while it moves by ten pixels: its edges rise over ten.
    moving = matte(np.stack([np.subtract(square, [5, 0]), np.add(square, [5, 0])]), size, 0.0, 0.0, 1.0)
    assert float(moving.sum()) == pytest.approx(800, rel=0.02)
    assert moving[30, 14] == 0 and moving[30, 20] == pytest.approx(0.5, abs=0.1) and moving[30, 26] == 1


def test_an_outline_between_two_that_were_drawn() -> None:
    shapes, at = np.array([[[0.0, 0], [1, 0], [1, 1]], [[2.0, 2], [3, 2], [3, 3]]]), np.array([10.0, 20.0])
    between = drawn_at(shapes, at, np.array([0.0, 10, 15, 20, 90]))
    assert np.allclose(between[[0, 1]], shapes[0]) and np.allclose(between[[3, 4]], shapes[1])
    assert np.allclose(between[2], shapes.mean(axis=0))
    assert np.allclose(drawn_at(shapes[:1], at[:1], np.array([3.0, 30.0])), shapes[0])


def test_round_outlines_go_through_their_points() -> None:
    square = np.array([[0.0, 0], [4, 0], [4, 4], [0, 4]])
    for roundness in (0.0, 0.4, 1.0):
        assert np.allclose(rounded(square, roundness)[::12], square)
    assert area_of(rounded(square, 0.0)) == pytest.approx(16)
    assert area_of(rounded(square, 1.0)) > 18


@given(st.lists(st.tuples(st.floats(-0.2, 0.2), st.floats(-0.2, 0.2)), min_size=4, max_size=4))
def test_corners_of_a_picture_come_to_lie_on_corners(moved: list[tuple[float, float]]) -> None:
    unit = np.array([[0.0, 0], [1, 0], [1, 1], [0, 1]])
    corners = unit + np.array(moved)
    assert np.allclose(through(square_to(corners), unit), corners, atol=1e-9)
