"""When each letter does it: every order and delay exactly as it says, over random words."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import (
    Channel,
    Deformation,
    Ease,
    Format,
    Key,
    LetterSet,
    Shot,
    Timing,
    Title,
    Vector,
)
from dreizack.core.motion import sample
from dreizack.core.scene import bake, frame_names
from dreizack.core.scene.set_motion import set_delays
from dreizack.core.scene.timing import delays, ranks, scattered

ORDERS = ("reading", "reverse", "from the middle", "from the ends", "random", "by width")
words = st.lists(st.text("AEIMW", min_size=1, max_size=5), min_size=1, max_size=4).map(" ".join)


def staggered(text: str, keys: list[Key] | None = None, **timing: object) -> Shot:
    """A title whose letters rise by a metre within ten frames, each at its own time."""
    letters = LetterSet(rule="every", step=1, timing=Timing(**timing))  # type: ignore[arg-type]
    title = Title(words=text, sets=[letters])
    linear = Ease(kind="linear")
    moved = Channel(keys=keys or [Key(frame=0, value=0, ease=linear), Key(frame=10, value=1)])
    return Shot(
        format=Format(frames=200), things={"title": title}, channels={"/things/title/sets/0/move/y": moved}
    )


def heights(shot: Shot, frames: list[float]) -> np.ndarray:
    """How far each letter has risen (frames, letters)."""
    still = bake(shot.model_copy(update={"channels": {}}), np.zeros(1)).titles["title"].poses[0, :, 1, 3]
    return bake(shot, np.array(frames)).titles["title"].poses[:, :, 1, 3] - still


@given(
    words,
    st.sampled_from(ORDERS),
    st.floats(0.1, 9),
    st.integers(0, 5),
    st.sampled_from(["letters", "words"]),
)
def test_each_letter_reads_the_values_of_its_set_at_its_own_time(
    text: str, order: str, delay: float, seed: int, unit: str
) -> None:
    shot = staggered(text, order=order, delay=delay, seed=seed, unit=unit)
    pieces = bake(shot, np.zeros(1)).titles["title"].forms[0].pieces
    which, late = set_delays(shot.titles["title"].sets[0], pieces)
    assert which.tolist() == list(range(len(pieces.listed)))
    frames = [0.0, 3.25, 9.5, 20.0, 63.0]
    expected = sample(shot.channels["/things/title/sets/0/move/y"], np.array(frames)[:, None] - late)
    np.testing.assert_allclose(heights(shot, frames), expected, atol=1e-9)


@given(st.lists(st.floats(0.1, 2), min_size=1, max_size=40), st.integers(0, 9))
def test_orders_are_what_they_say(widths: list[float], seed: int) -> None:
    wide, count = np.array(widths), len(widths)
    index = np.arange(count)
    assert ranks("reading", wide, seed).tolist() == index.tolist()
    assert ranks("reverse", wide, seed).tolist() == index[::-1].tolist()
    middle, ends = ranks("from the middle", wide, seed), ranks("from the ends", wide, seed)
    assert middle.tolist() == middle[::-1].tolist() and middle.min() == 0 and middle[0] == middle.max()
    assert (np.diff(middle[(count - 1) // 2 :: -1]) == 1).all()
    assert (middle + ends == middle.max()).all()
    drawn = ranks("random", wide, seed)
    assert sorted(drawn) == index.tolist() and drawn.tolist() == ranks("random", wide, seed).tolist()
    assert (np.diff(wide[np.argsort(ranks("by width", wide, seed))]) >= 0).all()


@given(
    st.integers(2, 60),
    st.sampled_from(ORDERS),
    st.sampled_from(["linear", "ease-in", "ease-out", "ease-in-out"]),
    st.floats(1, 300),
)
def test_the_length_stays_or_grows_with_the_words(count: int, order: str, spacing: str, total: float) -> None:
    where = np.arange(count)
    args = where, where, 0 * where, np.ones(count), np.zeros((count, 2))
    stays = delays(Timing(order=order, length="stays", total=total, ease=spacing), *args)  # type: ignore[arg-type]
    assert stays.min() == 0 and (
        stays.max() == pytest.approx(total) or ranks(order, np.ones(count), 1).max() == 0
    )
    grows = delays(Timing(order=order, delay=1.5, ease=spacing), *args)  # type: ignore[arg-type]
    assert grows.max() == pytest.approx(1.5 * ranks(order, np.ones(count), 1).max())
    # An ease changes when, never who comes before whom.
    assert (
        np.argsort(stays, kind="stable") == np.argsort(ranks(order, np.ones(count), 1), kind="stable")
    ).all()


def test_spacing_is_that_of_the_easing_keywords() -> None:
    where = np.arange(5)
    found = delays(
        Timing(order="reading", length="stays", total=100, ease="ease-in"),
        where,
        where,
        where,
        np.ones(5),
        np.zeros((5, 2)),
    )
    # cubic-bezier(0.42, 0, 1, 1) at 0.25, 0.5 and 0.75.
    np.testing.assert_allclose(found[1:4], [9.3465, 31.5357, 62.1862], atol=2e-3)


def test_letters_of_a_word_begin_together_and_words_one_by_one() -> None:
    shot = staggered("EBB FLOW TIDE", order="reading", unit="words", delay=5)
    _, late = set_delays(
        shot.titles["title"].sets[0], bake(shot, np.zeros(1)).titles["title"].forms[0].pieces
    )
    assert late.tolist() == [0] * 3 + [5] * 4 + [10] * 4


def test_scatter_goes_by_seed_and_by_its_keys() -> None:
    shot = staggered("SLACK WATER", order="together")
    one = shot.titles["title"].sets[0]
    one.scatter, one.scatter_seed = Vector(x=2.0, z=1.0), 7
    still = bake(Shot(things={"title": Title(words="SLACK WATER")}), np.zeros(1)).titles["title"].poses[0]
    moved = bake(shot, np.zeros(1)).titles["title"].poses[0]
    drawn = scattered(7, np.array([0, 1, 2, 3, 4, 6, 7, 8, 9, 10]))
    np.testing.assert_allclose(moved[:, 0, 3] - still[:, 0, 3], 2 * drawn[:, 0], atol=1e-9)
    np.testing.assert_allclose(moved[:, 2, 3] - still[:, 2, 3], drawn[:, 2], atol=1e-9)
    assert np.abs(drawn).max() <= 1 and not np.allclose(drawn, scattered(8, np.arange(10)))


def test_frames_in_which_late_letters_still_move_have_names_of_their_own() -> None:
    """After the last key all values rest, but letters that began later do not."""
    shot = staggered("SLACK", order="reading", delay=6)
    names = frame_names(shot, np.arange(60.0))
    risen = heights(shot, np.arange(60.0).tolist())
    for a in range(12, 59):
        assert (names[a] == names[a + 1]) == bool(np.allclose(risen[a], risen[a + 1])), a
    assert len(set(names[36:])) == 1


def test_a_hundred_letters_in_three_staggers_are_baked_as_one() -> None:
    shot = staggered("EBB FLOW " * 12, order="random", delay=0.3)
    title = shot.titles["title"]
    title.sets = [title.sets[0].model_copy(deep=True) for _ in range(3)]
    for number, order in enumerate(ORDERS[:3]):
        title.sets[number].timing = Timing(order=order, delay=0.5)  # type: ignore[arg-type]
        shot.channels[f"/things/title/sets/{number}/turn/z"] = Channel(
            keys=[Key(frame=0, value=90), Key(frame=30, value=0)]
        )
    baked = bake(shot).titles["title"]
    assert len(baked.forms) == 1 and baked.poses.shape == (200, 84, 3, 4)
    assert np.isfinite(baked.poses).all()


def test_places_say_when_letters_begin() -> None:
    shot = staggered("IIIII", order="from a point", delay=3, point_x=0.0, point_y=0.0)
    pieces = bake(shot, np.zeros(1)).titles["title"].forms[0].pieces
    _, late = set_delays(shot.titles["title"].sets[0], pieces)
    away = np.hypot(*pieces.middles.T)
    np.testing.assert_allclose(late, (away - away.min()) / np.ptp(away) * 4 * 3)
    across = LetterSet(timing=Timing(order="along a direction", direction=180, delay=2), step=1)
    _, late = set_delays(across, pieces)
    np.testing.assert_allclose(late, [8, 6, 4, 2, 0], atol=1e-6)
    listed = LetterSet(timing=Timing(order="as listed", listed="3 0", delay=2), step=1)
    assert set_delays(listed, pieces)[1].tolist() == [2, 4, 4, 0, 4]
    other = LetterSet(timing=Timing(order="reading", unit="alternate letters", delay=5), step=1)
    assert set_delays(other, pieces)[1].tolist() == [0, 5, 0, 5, 0]


def test_hinges_of_words_and_the_title_lie_in_their_middles() -> None:
    shot = Shot(things={"title": Title(words="EBB TIDE", sets=[LetterSet(step=1, hinge="title")])})
    letters = shot.titles["title"].sets[0]
    still = bake(shot, np.zeros(1)).titles["title"]
    letters.turn.z = 180
    turned = bake(shot, np.zeros(1)).titles["title"].poses[0]
    centres = still.forms[0].pieces.middles - still.forms[0].pieces.origins
    before = still.poses[0] @ np.column_stack([centres, 0 * centres[:, 0], 1 + 0 * centres[:, 0]])[:, :, None]
    after = turned @ np.column_stack([centres, 0 * centres[:, 0], 1 + 0 * centres[:, 0]])[:, :, None]
    # Half a turn about the middle puts every letter on the other side of it.
    middle = (before + after)[:, :2, 0] / 2
    np.testing.assert_allclose(middle, np.broadcast_to(middle[0], middle.shape), atol=1e-9)


def test_depth_flattens_letters_and_makes_no_new_bodies() -> None:
    shot = staggered("EBB", order="reading", delay=4)
    shot.channels = {"/things/title/sets/0/depth": shot.channels["/things/title/sets/0/move/y"]}
    body = bake(shot, np.array([0.0, 5.0, 40.0])).titles["title"]
    assert len(body.forms) == 1
    np.testing.assert_allclose(body.poses[:, :, 2, 2], [[1e-6] * 3, [0.5, 0.1, 1e-6], [1, 1, 1]], atol=1e-6)


def test_letters_that_are_bent_together_begin_one_after_the_other_too() -> None:
    shot = staggered("EBB", order="reading", delay=10)
    straight = bake(shot, np.array([10.0]))
    shot.titles["title"].deformations = [Deformation(kind="bend", amount=30)]
    baked = bake(shot, np.array([0.0, 10.0, 100.0])).titles["title"]
    assert len(baked.forms) == 3
    rise = baked.forms[int(baked.form[1])].rest[:, 1, 3] - baked.forms[int(baked.form[0])].rest[:, 1, 3]
    np.testing.assert_allclose(rise, [1, 0, 0], atol=1e-6)
    np.testing.assert_allclose(
        baked.poses[1, :, :3, 3], straight.titles["title"].poses[0, :, :3, 3], atol=1e-6
    )
