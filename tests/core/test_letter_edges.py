"""Edges of single letters that reach further, or not at all, each at its own time."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from dreizack.core.document import Shot
from dreizack.core.scene import BodyStore, Form, bake


def shot(words: str = "EBB", keys: list[tuple[float, float]] | None = None, **change: Any) -> Shot:
    timing = {"order": "reading", "delay": 5}
    letters = {"rule": "every", "step": 1, "timing": timing} | change
    title = {"kind": "title", "words": words, "sets": [letters]}
    listed = [{"frame": f, "value": v, "ease": {"kind": "linear"}} for f, v in keys or []]
    return Shot.model_validate(
        {
            "format": {"width": 320, "height": 180, "frames": 60},
            "things": {"title": title},
            "channels": {"/things/title/sets/0/edges": {"keys": listed}} if keys else {},
        }
    )


def bodies(form: Form, store: BodyStore) -> list[str]:
    return [letter.body for letter in store.letters(form)]


def test_edges_of_a_set_are_those_of_a_body_that_reaches_so_far() -> None:
    store = BodyStore()
    half = shot(edges=0.5).titles["title"]
    plain = half.model_copy(deep=True)
    plain.sets = []
    for edge in (plain.body.front, plain.body.back):
        edge.reach, edge.rise = edge.reach / 2, edge.rise / 2
    assert bodies(Form(half), store) == bodies(Form(plain), store)
    # Of every second letter alone, the others keep theirs.
    some = shot(words="BBBB", edges=0, step=2, first=0).titles["title"]
    names = bodies(Form(some), store)
    assert names[0] == names[2] != names[1] == names[3]
    sharp, round_ = store.get(names[0]), store.get(names[1])
    assert sharp is not None and round_ is not None
    assert len(sharp.position) < len(round_.position)


def test_each_letter_has_its_edges_at_its_own_time() -> None:
    baked = bake(shot(keys=[(0, 0.0), (20, 1.0)]))
    body = baked.titles["title"]
    for frame in (0, 7, 20, 33, 59):
        edges = body.forms[int(body.form[frame])].edges
        assert edges is not None
        expected = np.clip((frame - 5 * np.arange(3)) / 20, 0, 1)
        np.testing.assert_allclose(edges, expected, atol=0.011)
    # Held and repeated steps share a form, and letters at one step share their body.
    assert len(body.forms) <= 31
    store = BodyStore()
    last = bodies(body.forms[int(body.form[59])], store)
    assert last == bodies(Form(shot(edges=1).titles["title"], body.forms[0].tolerance), store)


@pytest.mark.parametrize("edges", [0.0, 4.0])
def test_extreme_edges_leave_letters_whole(edges: float) -> None:
    store = BodyStore()
    title = shot(words="SŒ8&", edges=edges).titles["title"]
    for letter in store.letters(Form(title)):
        body = store.get(letter.body)
        assert body is not None and len(body.triangles) > 20 and np.isfinite(body.position).all()
        depth = np.ptp(body.position[:, 2])
        assert depth == pytest.approx(title.body.depth, rel=1e-3)


def test_edges_of_letters_are_bent_with_their_title() -> None:
    bent = shot(keys=[(0, 0.0), (20, 1.0)])
    bent.titles["title"].deformations = [
        Shot.model_validate(
            {"things": {"t": {"kind": "title", "deformations": [{"kind": "bend", "amount": 30}]}}}
        )
        .titles["t"]
        .deformations[0]
    ]
    body = bake(bent).titles["title"]
    assert len(body.forms) > 10
    assert all(form.edges is not None for form in body.forms)
