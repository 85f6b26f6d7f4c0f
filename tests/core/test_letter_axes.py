"""Single letters moved along axes of a variable typeface, each at its own time."""

from __future__ import annotations

from typing import Any

import numpy as np

from dreizack.core.document import Shot
from dreizack.core.lettering import typefaces
from dreizack.core.scene import BodyStore, Form, bake

# A shipped typeface with an axis of weight.
FACE, WEIGHT = next(
    (face, axis) for face in typefaces() for axis in face.axes if axis.tag == "wght" and axis.high > axis.low
)
SPAN = WEIGHT.high - WEIGHT.default


def shot(words: str = "EBB", keys: list[tuple[float, float]] | None = None, **change: Any) -> Shot:
    letters = {"rule": "every", "step": 1, "axis": "wght", "timing": {"order": "reading", "delay": 5}}
    setting = {"typeface": FACE.name}
    title = {"kind": "title", "words": words, "setting": setting, "sets": [letters | change]}
    listed = [{"frame": f, "value": v, "ease": {"kind": "linear"}} for f, v in keys or []]
    return Shot.model_validate(
        {
            "format": {"width": 320, "height": 180, "frames": 40},
            "things": {"title": title},
            "channels": {"/things/title/sets/0/axis_by": {"keys": listed}} if keys else {},
        }
    )


def outlines(form: Form) -> list[str]:
    return [piece.key for piece in form.pieces.listed]


def test_letters_have_the_outline_of_the_axis_and_keep_their_places() -> None:
    heavy = shot(axis_by=SPAN).titles["title"]
    plain = shot(axis_by=0).titles["title"]
    known = plain.model_copy(deep=True)
    known.setting.axes = {"wght": type(next(iter(shot_axes().values())))(value=WEIGHT.high)}
    assert outlines(Form(heavy)) == outlines(Form(known)) != outlines(Form(plain))
    np.testing.assert_array_equal(Form(heavy).pieces.origins, Form(plain).pieces.origins)
    # Only every second one.
    some = outlines(Form(shot(axis_by=SPAN, step=2).titles["title"]))
    assert some == [outlines(Form(heavy))[0], outlines(Form(plain))[1], outlines(Form(heavy))[2]]


def shot_axes() -> dict[str, Any]:
    title = {"kind": "title", "setting": {"axes": {"wght": {"value": WEIGHT.default}}}}
    return Shot.model_validate({"things": {"t": title}}).titles["t"].setting.axes


def test_each_letter_is_moved_at_its_own_time() -> None:
    body = bake(shot(keys=[(0, 0.0), (20, SPAN)])).titles["title"]
    step = (WEIGHT.high - WEIGHT.low) / 60
    for frame in (0, 3, 14, 39):
        shifts = body.forms[int(body.form[frame])].axes
        assert shifts is not None
        got = [dict(own).get("wght", 0.0) for own in shifts]
        expected = np.clip((frame - 5 * np.arange(3)) / 20, 0, 1) * SPAN
        np.testing.assert_allclose(got, expected, atol=step / 2 + 1e-3)
    store = BodyStore()
    first, last = (
        [letter.body for letter in store.letters(body.forms[int(body.form[at])])] for at in (0, 39)
    )
    assert not set(first) & set(last)


def test_beyond_the_end_of_an_axis_letters_stay_at_it() -> None:
    end = outlines(Form(shot(axis_by=SPAN).titles["title"]))
    assert outlines(Form(shot(axis_by=2000).titles["title"])) == end


def test_an_axis_that_the_typeface_has_not_does_nothing() -> None:
    plain = outlines(Form(shot(axis_by=0).titles["title"]))
    assert outlines(Form(shot(axis_by=300, axis="ZZZZ").titles["title"])) == plain
    baked = bake(shot(keys=[(0, 0.0), (20, SPAN)], axis="ZZZZ"))
    assert len(baked.titles["title"].forms) == 1
