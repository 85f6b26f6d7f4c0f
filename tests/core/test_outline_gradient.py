"""Gradients along outlines: running length on the outline, the nearest outline inside, and movement when
their shift is keyed."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.document import Body, Edge, Setting, Title
from dreizack.core.document.finish import SurfacePicture
from dreizack.core.finish import TEXTURE_TRANSFORM
from dreizack.core.form import GlyphBody
from dreizack.core.scene import BodyStore, Form, shown_picture, uv_maps
from dreizack.core.scene.outline_gradient import outline_length

PLAIN = Body(depth=0.1, front=Edge(profile="none"), back=Edge(profile="none"))


class Words:
    """A title's letters, looked up as surfaces do."""

    def __init__(self, words: str, **more: object) -> None:
        self.form, self.store = (
            Form(Title(words=words, setting=Setting(typeface="archivo-black", size=1.0), body=PLAIN)),
            BodyStore(),
        )
        stops = [{"at": 0, "colour": {"r": 0, "g": 0, "b": 0}}, {"at": 1, "colour": {"r": 1, "g": 1, "b": 1}}]
        self.picture = SurfacePicture.model_validate(
            {"fill": "gradient", "gradient": "outline", "stops": stops, "space": "letter", **more}
        )
        self.letters = self.store.letters(self.form)
        self.bodies = [self.store.get(letter.body) for letter in self.letters]

    def body(self, number: int) -> GlyphBody:
        found = self.bodies[number]
        assert found is not None
        return found

    def red(
        self, number: int, points: np.ndarray, texture_transform: tuple[float, ...] = (1.0, 0, 0, 0)
    ) -> np.ndarray:
        """Red at points (n, 3) of a letter."""
        at = np.array(texture_transform)
        assert len(at) == len(TEXTURE_TRANSFORM)
        lies = uv_maps(self.picture, at, 1.0, self.letters, self.bodies, np.eye(4), self.form.rest)[number]
        made = shown_picture(self.picture, 0, at, self.store, self.form)[..., 0]
        uv = points @ lies.plane[:, :3].T + lies.plane[:, 3]
        rows, columns = made.shape
        return made[
            np.clip(((1 - uv[:, 1]) * rows).astype(int), 0, rows - 1),
            np.clip((uv[:, 0] * columns).astype(int), 0, columns - 1),
        ]

    def wall(self, number: int) -> tuple[np.ndarray, np.ndarray]:
        """Places on a letter's wall (n, 3) and their running length as a share of the longest."""
        body = self.body(number)
        corners = np.unique(body.part("wall"))
        share = body.uv[corners, 0] / outline_length(body)
        # Away from where an outline begins and ends, which is black on one side and white on the other.
        inner = (share > 0.03) & (share < 0.97)
        return body.position[corners][inner].astype(float), share[inner].astype(float)


@pytest.mark.parametrize(("words", "number"), [("I", 0), ("SLACK", 2)])
def test_walls_have_the_colour_of_their_running_length(words: str, number: int) -> None:
    made = Words(words, repeat="once")
    points, share = made.wall(number)
    assert len(points) >= 8
    off = np.abs(made.red(number, points) - share)
    assert np.percentile(off, 95) < 0.02


def test_the_face_has_the_colour_of_the_nearest_outline() -> None:
    made, body = Words("I", repeat="once"), Words("I").body(0)
    low, high = body.position.min(axis=0), body.position.max(axis=0)
    walls = body.part("wall")
    # Either long side of the letter: running length goes straight up or down there.
    for side, inward in ((low[0], 1.0), (high[0], -1.0)):
        corners = np.unique(walls[(np.abs(body.position[walls, 0] - side) < 1e-5).all(axis=1)])
        slope, start = np.polyfit(body.position[corners, 1], body.uv[corners, 0] / outline_length(body), 1)
        assert abs(slope) > 0.1
        heights = np.linspace(low[1] + 0.25 * (high[1] - low[1]), high[1] - 0.25 * (high[1] - low[1]), 7)
        for away in (0.01, 0.04):
            inside = np.column_stack([np.full(7, side + inward * away), heights, np.full(7, 0.05)])
            np.testing.assert_allclose(made.red(0, inside), slope * heights + start, atol=0.03)


def test_colours_go_over_into_each_other_far_from_the_outline() -> None:
    made = Words("I", repeat="once")
    points, _ = made.wall(0)
    low, high = points.min(axis=0), points.max(axis=0)
    across = np.linspace(low[0] + 0.002, high[0] - 0.002, 81)
    middle = np.column_stack([across, np.full(81, (low[1] + high[1]) / 2 + 0.1), np.zeros(81)])
    red = made.red(0, middle)
    whole = abs(red[-1] - red[0])
    assert whole > 0.1
    # No step in the middle, where the nearest outline changes.
    assert np.abs(np.diff(red)).max() < 0.35 * whole


def test_a_shift_moves_colours_along_and_size_draws_them_out() -> None:
    made = Words("I", repeat="mirrored")
    points, share = made.wall(0)
    mirrored = lambda t: 1 - np.abs(t % 2 - 1)  # noqa: E731
    np.testing.assert_allclose(made.red(0, points, (1.0, 0.3, 0, 0)), mirrored(share + 0.3), atol=0.03)
    np.testing.assert_allclose(made.red(0, points, (0.5, 0.0, 0, 0)), mirrored(share * 2), atol=0.04)


def test_letters_of_a_word_share_the_length_of_the_longest_outline() -> None:
    made = Words("IS", repeat="once", space="word")
    longest = max(outline_length(body) for body in made.bodies)
    assert longest > outline_length(made.body(0)) * 1.2
    points, share = made.wall(0)
    off = np.abs(made.red(0, points) - share * outline_length(made.body(0)) / longest)
    assert np.percentile(off, 95) < 0.02
