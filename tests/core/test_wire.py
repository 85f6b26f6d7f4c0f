"""Wire: tubes lie on the edges, closed and as thick as asked."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.document import Body, Deformation, Edge, Finish, Setting, Title
from dreizack.core.form import GlyphBody
from dreizack.core.form.wire import feature_edges, wired
from dreizack.core.scene import BodyStore, Form
from dreizack.core.scene.form import finishes


def bodies_of(title: Title) -> list[GlyphBody]:
    store = BodyStore()
    found = [store.get(letter.body) for letter in store.letters(Form(title))]
    assert all(body is not None for body in found)
    return found  # type: ignore[return-value]


def block(words: str = "I", **more: object) -> Title:
    return Title(
        words=words,
        setting=Setting(typeface="archivo-black"),
        body=Body(depth=0.2, front=Edge(profile="none"), back=Edge(profile="none")),
        **more,
    )  # type: ignore[arg-type]


def test_a_plain_stroke_has_twelve_edges_and_eight_corners() -> None:
    (body,) = bodies_of(block())
    points, start, _, _ = feature_edges(body, between_parts=False)
    assert len(start) == 12
    assert len(np.unique(start.tolist() + feature_edges(body, False)[2].tolist())) == 8
    assert len(feature_edges(body, between_parts=True)[1]) == 8
    assert len(points) >= 8


@pytest.mark.parametrize("words", ["S", "B", "&"])
def test_tubes_keep_their_distance_from_the_edges(words: str) -> None:
    title = Title(words=words, setting=Setting(typeface="playfair-display", size=0.5))
    (body,) = bodies_of(title)
    radius = 0.003
    tube = wired(body, radius, between_parts=True)
    points, start, end, _ = feature_edges(body, True)
    # The surface of a tube is never farther from the nearest edge than its radius, and never much nearer to
    # its own.
    a, b = points[start], points[end] - points[start]
    step = tube.position[:: max(1, len(tube.position) // 400)].astype(np.float64)
    share = np.clip(((step[:, None] - a) * b).sum(-1) / np.maximum((b * b).sum(-1), 1e-18), 0, 1)
    away = np.linalg.norm(step[:, None] - a - share[..., None] * b, axis=-1).min(axis=1)
    assert away.max() <= radius * 1.01
    assert np.median(away) == pytest.approx(radius, rel=0.03)
    np.testing.assert_allclose(np.linalg.norm(tube.normal, axis=1), 1, atol=1e-5)


def test_the_wire_wears_its_own_finish_with_the_body_or_without() -> None:
    title = block("AB")
    title.wire.edges, title.wire.finish = "all", Finish(roughness=0.9)
    store = BodyStore()
    both = store.letters(Form(title))
    assert len(both) == 4 and finishes(title)[-1] == "/wire/finish"
    assert [letter.finish for letter in both] == [0, 0, 1, 1]
    title.wire.solid = False
    alone = store.letters(Form(title))
    assert [letter.finish for letter in alone] == [1, 1]
    assert all(not store.get(letter.body).empty for letter in alone)  # type: ignore[union-attr]


def test_wire_follows_what_is_bent() -> None:
    title = block("HH", deformations=[Deformation(kind="bend", amount=120)])
    title.wire.edges, title.wire.solid = "all", False
    straight = block("HH")
    straight.wire.edges, straight.wire.solid = "all", False
    reach = [
        np.ptp(np.concatenate([body.position for body in bodies_of(one)])[:, 2]) for one in (title, straight)
    ]
    assert reach[0] > 1.5 * reach[1]
