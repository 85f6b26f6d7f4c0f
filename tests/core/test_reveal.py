"""What of a thing is uncovered: nothing at 0, all at 1, and the same in the core and in the renderer."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import Channel, Finish, Format, Key, Reveal, Sheet, Shot, Title
from dreizack.core.render import Stage
from dreizack.core.render.kernel.engine import engine
from dreizack.core.scene import BodyStore, bake, frame_state, reveal_box, reveal_rows, reveal_state, uncovered
from dreizack.core.scene.reveal import REVEAL_VALUES

share = st.floats(0, 1)
BOX = np.array([[-1.5, -0.2, -0.1], [2.5, 0.6, 0.1]])


@st.composite
def reveals(draw: st.DrawFn) -> Reveal:
    return Reveal(
        runs=draw(st.sampled_from(["straight", "from the middle", "round"])),
        begin=draw(share),
        end=draw(share),
        angle=draw(st.floats(-400, 400)),
        softness=draw(st.floats(0, 1)),
        ragged=draw(st.floats(0, 1)),
        grain=draw(st.floats(0.01, 2)),
        glow=draw(st.floats(0, 20)),
        width=draw(st.floats(0.01, 0.5)),
    )


def row_of(reveal: Reveal, matrix: np.ndarray | None = None) -> np.ndarray:
    values = np.array([_value(reveal, name) for name in REVEAL_VALUES])
    state = reveal_state(Title(reveal=reveal), values)
    return reveal_rows([state], np.eye(4)[None] if matrix is None else matrix[None], BOX)[0]


def _value(reveal: Reveal, name: str) -> float:
    return getattr(reveal.tint, name[-1]) if "/" in name else getattr(reveal, name)


def places(count: int = 200) -> np.ndarray:
    return np.random.default_rng(3).uniform(BOX[0], BOX[1], (count, 3))


@given(reveals())
def test_at_its_ends_all_or_nothing_is_there_and_nothing_glows(reveal: Reveal) -> None:
    for begin, end, expected in ((0, 1, 1), (0, 0, 0), (1, 1, 0)):
        row = row_of(reveal.model_copy(update={"begin": begin, "end": end}))
        there, edge = uncovered(row, places())
        np.testing.assert_allclose(there, expected, atol=1e-6)
        np.testing.assert_allclose(edge, 0, atol=1e-6)


@given(reveals(), share)
def test_what_is_uncovered_stays_so(reveal: Reveal, more: float) -> None:
    first = reveal.model_copy(update={"begin": 0.0})
    later = first.model_copy(update={"end": first.end + (1 - first.end) * more})
    assert (uncovered(row_of(later), places())[0] >= uncovered(row_of(first), places())[0] - 1e-9).all()


@pytest.mark.parametrize(("angle", "axis", "sign"), [(0, 0, 1), (90, 1, 1), (180, 0, -1), (270, 1, -1)])
def test_a_straight_edge_goes_where_it_is_sent(angle: float, axis: int, sign: int) -> None:
    points = places(4000)
    there, _ = uncovered(row_of(Reveal(end=0.25, softness=0, angle=angle)), points)
    at = (points[:, axis] - BOX.mean(axis=0)[axis]) * sign / np.ptp(BOX[:, axis])
    clear = np.abs(at + 0.25) > 1e-3
    np.testing.assert_array_equal(there[clear] > 0.5, at[clear] < -0.25)


def test_it_goes_along_with_its_thing() -> None:
    reveal, turn = Reveal(end=0.4, ragged=0.3, grain=0.3), np.radians(37)
    matrix = np.array(
        [
            [np.cos(turn), 0, np.sin(turn), 3],
            [0, 1, 0, -2],
            [-np.sin(turn), 0, np.cos(turn), 5],
            [0, 0, 0, 1.0],
        ]
    )
    moved = places() @ matrix[:3, :3].T + matrix[:3, 3]
    np.testing.assert_allclose(
        uncovered(row_of(reveal, matrix), moved)[0], uncovered(row_of(reveal), places())[0], atol=1e-9
    )


@pytest.mark.parametrize("runs", ["straight", "from the middle", "round"])
def test_the_renderer_says_the_same(runs: str) -> None:
    mi = engine()
    reveal = Reveal(runs=runs, begin=0.1, end=0.7, softness=0.2, ragged=0.3, grain=0.2, glow=5, angle=30)  # type: ignore[arg-type]
    sheet = Sheet(width=2, height=1, reveal=reveal, finish=Finish(emission=0))
    shot = Shot(things={"sheet": sheet})
    state, stage = frame_state(shot, bake(shot, np.zeros(1)), 0), Stage(BodyStore())
    stage.show(state)
    body = state.titles["sheet"]
    points = np.random.default_rng(5).uniform([-1, -0.5, 0], [1, 0.5, 0], (500, 3))
    points = points @ body.matrix[:3, :3].T + body.matrix[:3, 3]
    row = reveal_rows([body.reveal], body.matrix[None], reveal_box(body.form, stage.bodies))[0]  # type: ignore[list-item]
    away = points + body.matrix[:3, 2] * 0.5
    ray = mi.Ray3f(
        mi.Point3f(*(mi.Float(away[:, k].astype(np.float32)) for k in range(3))),
        mi.Vector3f((-body.matrix[:3, 2]).tolist()),
    )
    met = stage.scene.ray_intersect(ray)
    assert np.asarray(met.is_valid()).all()
    there, edge = uncovered(row, np.asarray(met.p).reshape(3, -1).T.astype(np.float64))
    assert 0.1 < there.mean() < 0.95
    clear = np.asarray(met.bsdf().eval_null_transmission(met))
    np.testing.assert_allclose(1 - clear.reshape(3, -1)[0], there, atol=2e-3)
    sent = np.asarray(met.emitter(stage.scene).eval(met)).reshape(3, -1).T
    np.testing.assert_allclose(sent, edge, atol=2e-2)


def test_uncovering_makes_no_body_anew_and_no_scene() -> None:
    title = Title(words="EBB")
    keys = [Key(frame=0, value=0), Key(frame=20, value=1)]
    shot = Shot(
        format=Format(frames=20),
        things={"title": title},
        channels={"/things/title/reveal/end": Channel(keys=keys)},
    )
    baked, bodies = bake(shot), BodyStore()
    assert len(baked.titles["title"].forms) == 1
    stage = Stage(bodies)
    stage.show(frame_state(shot, baked, 2))
    scene, mark = stage.scene, bodies.mark()
    stage.show(frame_state(shot, baked, 12))
    assert stage.scene is scene
    assert bodies.mark() == mark
    assert frame_state(shot, baked, 2).titles["title"].key != frame_state(shot, baked, 12).titles["title"].key


def test_whole_things_have_no_reveal() -> None:
    shot = Shot(things={"title": Title(words="EBB", reveal=Reveal(ragged=0.5, glow=3))})
    assert bake(shot, np.zeros(1)).titles["title"].reveal is None
