"""Shadows on the ground against geometry."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.light import footprint, shadow_tip
from dreizack.core.scene import BodyStore, bake, body_points
from dreizack.demo import demo_shots

# A square card that stands upright on x from -1 to 1, y from 1 to 2.
CARD = np.array([[-1.0, 1, 0], [1, 1, 0], [1, 2, 0], [-1, 2, 0]])
SIDES = np.array([[0, 1, 2], [0, 2, 3]])


def area(rings: list[np.ndarray]) -> float:
    """Of rings filled by the even-odd rule, when none cross."""
    signed = [
        0.5 * float(np.sum(r[:, 0] * np.roll(r[:, 1], -1) - np.roll(r[:, 0], -1) * r[:, 1])) for r in rings
    ]
    return abs(sum(signed))


def test_a_card_in_the_sun() -> None:
    rings = footprint(CARD, SIDES, 0.0, np.array([0.0, 10, 10]), True, np.zeros(3))
    assert len(rings) == 1
    low, high = rings[0].min(axis=0), rings[0].max(axis=0)
    np.testing.assert_allclose([*low, *high], [-1, -2, 1, -1], atol=0.02)
    assert area(rings) == pytest.approx(2, rel=0.02)


def test_a_near_light_makes_the_shadow_larger() -> None:
    light = np.array([0.0, 4, 4])
    rings = footprint(CARD, SIDES, 0.0, light, False, np.zeros(3))
    # Twice as far from the light as the upper edge: twice as wide.
    np.testing.assert_allclose([*rings[0].min(axis=0), *rings[0].max(axis=0)], [-2, -4, 2, -4 / 3], atol=0.03)
    tip = shadow_tip(CARD, 0.0, light, False, np.zeros(3))
    assert tip is not None and tip[1][2] == pytest.approx(-4)


def test_holes_stay_open_and_what_overlaps_does_not_cancel() -> None:
    outer = np.array([[-1.0, 1, -1], [1, 1, -1], [1, 1, 1], [-1, 1, 1]])
    inner = outer * [0.5, 1, 0.5]
    points = np.concatenate([outer, inner])
    ring = [[i, (i + 1) % 4, 4 + i] for i in range(4)] + [
        [(i + 1) % 4, 4 + (i + 1) % 4, 4 + i] for i in range(4)
    ]
    rings = footprint(points, np.array(ring + ring), 0.0, np.array([0.0, 100, 0]), True, np.zeros(3))
    assert len(rings) == 2
    assert area([rings[0]]) - area([rings[1]]) == pytest.approx(3, rel=0.03)


def test_no_shadow_from_below_or_of_nothing() -> None:
    assert footprint(CARD, SIDES, 0.0, np.array([0.0, 0.5, 4]), False, np.zeros(3)) == []
    assert footprint(CARD, SIDES[:0], 0.0, np.array([0.0, 9, 4]), False, np.zeros(3)) == []
    assert footprint(CARD, SIDES, 3.0, np.array([0.0, 9, 4]), False, np.zeros(3)) == []


def test_coarser_bodies_throw_nearly_the_same_footprint() -> None:
    shot = demo_shots()["main-title"]
    title = bake(shot, np.array([0.0])).titles["title"]
    bodies, fine = BodyStore(), title.forms[int(title.form[0])]
    light, found = np.array([2.0, 8.0, 5.0]), []
    for form in (fine, fine.coarser(0.004)):
        points, triangles = body_points(form, np.eye(4), title.poses_at(0), bodies)
        found.append((len(triangles), area(footprint(points, triangles, -0.5, light, False, np.zeros(3)))))
    assert found[1][0] < 0.5 * found[0][0]
    assert found[1][1] == pytest.approx(found[0][1], rel=0.01)
    # What is coarse anyway stays so.
    assert fine.coarser(0.004).coarser(0.001) == fine.coarser(0.004)
