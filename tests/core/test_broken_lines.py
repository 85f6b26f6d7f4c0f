"""Strips that jump aside, and what a picture moves."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import Format, Shot
from dreizack.core.library import shelve
from dreizack.core.optics import Place
from dreizack.core.optics.steps.bend import UNEVEN, bent, broken_from, displacement, looked_at, strips
from dreizack.core.scene import bake, exposed
from tests.core.test_optics import values

PLACE = Place(160, 90)


def upright_lines() -> np.ndarray:
    """Lines that stand every 16 pixels, two wide."""
    light = np.zeros((90, 160, 3), np.float32)
    light[:, 8::16] = light[:, 9::16] = 1
    return light


def test_torn_strips_jump_along_themselves_and_others_stay() -> None:
    of = values(bend_broken=0.05, bend_strip=0.1, bend_torn=0.5, bend_seed=4)
    light = upright_lines()
    made = bent(light, of, PLACE)
    moved = np.abs(made - light).max(axis=(1, 2)) > 0.05
    assert 0.15 < moved.mean() < 0.85
    begins, jumps = strips(-6, 6, 4 * 4099, 0.5)
    for begin, end, jump in zip(begins[:-1], begins[1:], jumps[:-1], strict=True):
        # In heights from the middle of the picture; borders themselves are left out.
        rows = np.arange(90)
        inside = (rows + 0.5 > begin * 9 + 45) & (rows + 0.5 < end * 9 + 45)
        if inside.sum() < 1:
            continue
        assert (moved[inside] == (abs(jump) * 0.05 * 90 > 0.05)).all()
        # To the right by as much as it jumps.
        line = made[inside][0, 64:80, 0]
        middle = (line * np.arange(16)).sum() / line.sum()
        assert middle == pytest.approx(8.5 + jump * 0.05 * 90, abs=0.15)


@given(st.integers(0, 100_000), st.integers(0, 6000), st.floats(0, 1))
def test_strips_follow_one_another_and_jump_within_bounds(seed: int, jump: int, torn: float) -> None:
    begins, jumps = strips(-300, 300, seed * 4099 + jump, torn)
    assert (np.diff(begins) > 1 - UNEVEN - 1e-3).all() and np.abs(jumps).max() <= 1
    assert (jumps != 0).mean() == pytest.approx(torn, abs=0.12)
    again = strips(-20, 20, seed * 4099 + jump, torn)
    np.testing.assert_array_equal(again[0], begins[280:-280])


def test_strips_lie_as_they_are_turned(rng: np.random.Generator) -> None:
    x, y = (rng.uniform(-1, 1, 500).astype(np.float32) for _ in range(2))
    level = values(bend_broken=0.3, bend_torn=1.0)
    upright = level | {"bend/lie": 90.0}
    fx, fy = broken_from(x, y, level)
    np.testing.assert_array_equal(fy, y)
    gx, gy = broken_from(y, -x, upright)
    # Turned by a right angle, to the left: what lay to the right is up.
    np.testing.assert_allclose(gx, y, atol=1e-5)
    np.testing.assert_allclose(gy, -fx, atol=1e-5)


def test_windows_break_where_the_whole_does() -> None:
    light = upright_lines()
    of = values(bend_broken=0.1, bend_strip=0.07, bend_torn=1.0)
    whole = bent(light, of, PLACE)
    part = bent(np.ascontiguousarray(light[20:80, 30:130]), of, replace(PLACE, left=30, top=20))
    np.testing.assert_allclose(part[:, 16:-16], whole[20:80, 46:114], atol=1e-4)


def test_strips_jump_as_often_as_they_are_told_to() -> None:
    shot = Shot(format=Format(frames=50))
    shot.optics.bend.broken, shot.optics.bend.jumps = 0.1, 5.0
    jumps = bake(shot, np.arange(50.0)).optics["bend/jump"]
    np.testing.assert_array_equal(jumps, np.arange(50) // 5)
    before = exposed(shot, 10.0).traced_key
    shot.optics.bend.broken = 0.5
    assert exposed(shot, 10.0).traced_key == before


def test_a_picture_moves_what_is_seen(tmp_path: Path) -> None:
    shelve(tmp_path)
    codes = np.full((9, 16, 3), 128, np.uint8)
    # To the right on the right half, by red; upward in the lowest third, by green. Files have blue first.
    codes[:, 8:, 2] = 255
    codes[6:, :, 1] = 255
    cv2.imwrite(str(tmp_path / "moves.png"), codes)
    moving = displacement("moves.png")
    assert moving is not None
    right, up = looked_at(moving, np.array([0.1, 0.9]), np.array([0.2, 0.9]))
    np.testing.assert_allclose(right, [[0, 1], [0, 1]], atol=1e-6)
    np.testing.assert_allclose(up, [[0, 0], [1, 1]], atol=1e-6)
    light = np.zeros((90, 160, 3), np.float32)
    for row, column in ((20, 40), (20, 120), (80, 40), (80, 120)):
        light[row, column] = 1
    made = bent(light, values(bend_displaced=0.1), PLACE, "moves.png")
    for at in ((20, 40), (20, 129), (71, 40), (71, 129)):
        assert made[at].min() == pytest.approx(1, abs=0.02)
    assert made.sum() == pytest.approx(light.sum(), rel=0.05)


def test_a_picture_that_is_not_there_moves_nothing() -> None:
    light = upright_lines()
    assert bent(light, values(bend_displaced=0.3), PLACE, "gone.png") is light
    assert bent(light, values(bend_displaced=0.3), PLACE) is light
