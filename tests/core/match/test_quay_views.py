"""The demo's pan and still, against the cameras that are known of them."""

from __future__ import annotations

import json

import numpy as np

from dreizack.core.match import read_solve, solve_of_edges
from dreizack.demo.on_the_quay import SHIPPED
from dreizack.demo.quay import FOCAL, SIZE
from dreizack.demo.quay_views import FRAMES, STILL_AIM, STILL_PLACE, lens, rotations, turns
from dreizack.demo.quay_words import LEVEL, UPRIGHT


def test_the_pan_is_solved_to_less_than_a_tenth_of_a_pixel() -> None:
    solve = read_solve(SHIPPED / "quay-pan.solve")
    known = json.loads((SHIPPED / "quay-views.json").read_text(encoding="utf-8"))
    np.testing.assert_allclose(turns(), known["pan"]["turns"], atol=1e-5)
    assert solve.kind == "turning" and len(solve.bundle.rotations) == FRAMES
    assert abs(solve.bundle.focal / FOCAL - 1) < 0.002
    told, true = solve.bundle.rotations, rotations()
    places = np.stack(np.meshgrid(np.linspace(200, 760, 5), np.linspace(100, 440, 4)), axis=-1).reshape(-1, 2)
    rays = np.concatenate([places, np.ones((20, 1))], axis=1) @ np.linalg.inv(lens(SIZE, FOCAL)).T
    # Places of the middle frame as they are seen in every other one.
    middle = FRAMES // 2
    by_truth = np.einsum("nji,jk,pk->npi", true, true[middle], rays)
    by_solve = np.einsum("nij,kj,pk->npi", told, told[middle], rays)
    apart = (by_truth[..., :2] / by_truth[..., 2:] - by_solve[..., :2] / by_solve[..., 2:]) * FOCAL
    assert np.sqrt((apart**2).sum(axis=2).mean()) < 0.1


def test_edges_picked_in_the_still_tell_its_camera() -> None:
    solve = solve_of_edges(np.array(LEVEL), np.array(UPRIGHT), SIZE, True, FOCAL, 1)
    up = solve.bundle.rotations[0] @ [0, 1, 0]
    ahead = (STILL_AIM - STILL_PLACE) / np.linalg.norm(STILL_AIM - STILL_PLACE)
    right = np.cross(ahead, [0, 1, 0])
    right /= np.linalg.norm(right)
    true = np.array([0, -np.cross(right, ahead)[1], ahead[1]])
    assert np.degrees(np.arccos(up @ true)) < 0.7
    # The wall is turned by 18 degrees.
    along = np.array([np.cos(np.radians(18)), 0, -np.sin(np.radians(18))])
    seen = np.array([right @ along, -np.cross(right, ahead) @ along, ahead @ along])
    assert np.degrees(np.arccos(solve.bundle.rotations[0] @ [1, 0, 0] @ seen)) < 0.5
