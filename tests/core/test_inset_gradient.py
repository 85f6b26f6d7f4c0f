"""Gradients inward from the outline: distances are true, one side stays dark, and every letter finds its own
cell."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.document import Body, Edge, Setting, Title
from dreizack.core.document.finish import SurfacePicture
from dreizack.core.form import GlyphBody
from dreizack.core.scene import BodyStore, Form, uv_maps
from dreizack.core.scene.inset_gradient import inward_picture

PLAIN = Body(depth=0.1, front=Edge(profile="none"), back=Edge(profile="none"))


def letters(words: str) -> tuple[list, list[GlyphBody | None]]:
    store = BodyStore()
    found = store.letters(
        Form(Title(words=words, setting=Setting(typeface="archivo-black", size=1.0), body=PLAIN))
    )
    return found, [store.get(letter.body) for letter in found]


def shown_at(picture: SurfacePicture, words: str, number: int, points: np.ndarray) -> np.ndarray:
    """Red of the picture at points (n, 2) of a letter, looked up as surfaces do."""
    named, bodies = letters(words)
    lies = uv_maps(picture, np.array([1.0, 0, 0, 0]), 1.0, named, bodies, np.eye(4), np.eye(4)[None])[number]
    made = inward_picture(picture, bodies)[..., 0]
    uv = np.column_stack([points, np.zeros(len(points)), np.ones(len(points))]) @ lies.plane.T
    rows, columns = made.shape
    return made[
        np.clip(((1 - uv[:, 1]) * rows).astype(int), 0, rows - 1),
        np.clip((uv[:, 0] * columns).astype(int), 0, columns - 1),
    ]


def ramp(**more: float) -> SurfacePicture:
    """From black at the outline to white at ``width`` inside."""
    stops = [{"at": 0, "colour": {"r": 0, "g": 0, "b": 0}}, {"at": 1, "colour": {"r": 1, "g": 1, "b": 1}}]
    return SurfacePicture.model_validate(
        {"fill": "gradient", "gradient": "inward", "stops": stops, "width": 0.1, **more}
    )


@pytest.mark.parametrize(("words", "number"), [("I", 0), ("OIS", 1)])
def test_colours_follow_the_distance_from_the_outline(words: str, number: int) -> None:
    body = letters(words)[1][number]
    assert body is not None
    low, high = body.position.min(axis=0), body.position.max(axis=0)
    middle = (low[1] + high[1]) / 2
    away = np.array([0.01, 0.03, 0.05, 0.08])
    for side, sign in ((low[0], 1), (high[0], -1)):
        points = np.column_stack([side + sign * away, np.full(4, middle)])
        np.testing.assert_allclose(shown_at(ramp(), words, number, points), away / 0.1, atol=0.06)
    points = np.column_stack([low[0] + away, np.full(4, middle)])
    np.testing.assert_allclose(
        shown_at(ramp(inset=0.03), words, number, points), np.clip((away - 0.03) / 0.1, 0, 1), atol=0.06
    )


def test_one_sided_light_catches_one_side() -> None:
    body = letters("I")[1][0]
    assert body is not None
    low, high = body.position.min(axis=0), body.position.max(axis=0)
    middle = (low[1] + high[1]) / 2
    left, right = np.array([[low[0] + 0.02, middle]]), np.array([[high[0] - 0.02, middle]])
    picture = ramp(one_sided=1.0, lit_from=180.0)
    assert shown_at(picture, "I", 0, left)[0] < 0.35
    assert shown_at(picture, "I", 0, right)[0] > 0.9


def test_facing_up_lights_the_upper_edge() -> None:
    body = letters("I")[1][0]
    assert body is not None
    low, high = body.position.min(axis=0), body.position.max(axis=0)
    centre = (low[0] + high[0]) / 2
    top, bottom = np.array([[centre, high[1] - 0.02]]), np.array([[centre, low[1] + 0.02]])
    picture = ramp(one_sided=1.0, lit_from=90.0)
    assert shown_at(picture, "I", 0, top)[0] < 0.35
    assert shown_at(picture, "I", 0, bottom)[0] > 0.9
