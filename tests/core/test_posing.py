"""Letters over time: matrices apart from geometry, all frames at once, equal to setting the words anew for
each of them."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.affine import about, applied, rotation, skew
from dreizack.core.document import (
    Body,
    Channel,
    Deformation,
    Ease,
    Finish,
    Format,
    Gap,
    Key,
    LetterSet,
    Mark,
    Outlines,
    Path,
    Piece,
    Pose,
    Range,
    Setting,
    Shell,
    Shot,
    Title,
    Turn,
    Vector,
    Wire,
    apply_edit,
)
from dreizack.core.render import Stage
from dreizack.core.scene import BodyStore, bake, body_matrices, exposed, frame_state
from dreizack.core.scene.posing import only_poses

FRAMES = np.array([0.0, 3.5, 7.0, 11.0])
# Everything that only moves letters, with values it goes between.
MOVING = {
    "/setting/poses/letter-1/turn/y": (-90.0, 60.0),
    "/setting/poses/letter-4/move/z": (0.0, 0.8),
    "/setting/poses/word-1/scale": (1.0, 1.7),
    "/setting/poses/line-1/shear": (0.0, 30.0),
    "/setting/poses/letter-1/stretch": (1.0, 2.0),
    "/setting/tracking": (-40.0, 300.0),
    "/setting/leading": (1.2, 2.0),
    "/setting/gaps/2/value": (0.0, 400.0),
    "/ranges/0/tracking": (0.0, 90.0),
    "/ranges/0/lift": (0.0, 0.6),
    "/sets/0/turn/x": (0.0, 80.0),
    "/sets/0/move/y": (-0.3, 0.4),
    "/sets/0/scale": (1.0, 0.4),
    "/sets/1/turn/z": (0.0, 200.0),
}


def title(**more: object) -> Title:
    setting = Setting(
        typeface="zilla-slab",
        gaps={"2": Gap(value=100)},
        poses={
            "letter-1": Pose(),
            "letter-4": Pose(turn=Turn(z=12)),
            "word-1": Pose(move=Vector(x=0.1)),
            "line-1": Pose(),
        },
    )
    return Title(
        **{
            "words": "EBB FLOW\nSLACK",
            "setting": setting,
            "ranges": [Range(start=2, end=5, size=1.3)],
            "sets": [
                LetterSet(rule="every", step=2, hinge="left"),
                LetterSet(rule="range", first=1, last=3, hinge="bottom"),
            ],
            **more,
        }
    )


def moving(thing: Title | Mark, values: dict[str, tuple[float, float]], at: str = "/things/title") -> Shot:
    keys = {
        f"{at}{pointer}": Channel(
            keys=[Key(frame=0, value=a, ease=Ease(kind="linear")), Key(frame=11, value=b)]
        )
        for pointer, (a, b) in values.items()
    }
    return Shot(format=Format(frames=12), things={"title": thing}, channels=keys)


def set_anew(shot: Shot, frame: float) -> Shot:
    """The shot as it is at a frame, its values written down instead of keyed."""
    channels = bake(shot, np.array([frame])).channels
    still = shot.model_copy(update={"channels": {}})
    patch = [
        {"op": "replace", "path": pointer, "value": float(values[0])} for pointer, values in channels.items()
    ]
    return apply_edit(still, patch).shot


PATHS = [
    Path(),
    Path(kind="arc", radius=1.4),
    Path(kind="arc", radius=-2.0, sweep=160, stance="lying"),
    Path(kind="arc", radius=1.1, stance="bulging", facing="camera"),
    Path(kind="drawn", stance="bulging"),
]


@pytest.mark.parametrize("path", PATHS)
@pytest.mark.parametrize("align", ["left", "centre", "right"])
@pytest.mark.parametrize("optical", [False, True])
def test_all_frames_at_once_equal_setting_the_words_anew(path: Path, align: str, optical: bool) -> None:
    made = title(path=path)
    made.setting.align, made.setting.optical = align, optical  # type: ignore[assignment]
    along = {"/path/radius": (1.0, 2.5), "/path/offset": (-0.4, 0.4)} if path.kind == "arc" else {}
    shot = moving(made, MOVING | along)
    shot.channels["/camera/position/x"] = Channel(keys=[Key(frame=0, value=-2), Key(frame=11, value=3)])
    baked = bake(shot, FRAMES).titles["title"]
    assert len(baked.forms) == 1 and len(baked.poses) == len(FRAMES)
    for index, frame in enumerate(FRAMES):
        alone = bake(set_anew(shot, float(frame)), np.zeros(1)).titles["title"]
        assert alone.forms[0].key == baked.forms[0].key
        np.testing.assert_allclose(baked.poses_at(index), alone.poses_at(0), atol=1e-9)


def test_a_mark_moves_by_its_poses_and_sets() -> None:
    pieces = [Piece(name=str(x), path=f"M{x} 0L{x + 0.8} 0L{x + 0.4} 1Z") for x in range(4)]
    mark = Mark(
        pieces=pieces,
        poses={"letter-2": Pose(), "line-0": Pose()},
        sets=[LetterSet(rule="every", step=2, hinge="top")],
    )
    shot = moving(
        mark,
        {
            "/poses/letter-2/turn/z": (0.0, 90.0),
            "/poses/line-0/scale": (1.0, 0.5),
            "/sets/0/turn/x": (0.0, 45.0),
        },
    )
    baked = bake(shot, FRAMES).titles["title"]
    assert len(baked.forms) == 1
    for index, frame in enumerate(FRAMES):
        np.testing.assert_allclose(
            baked.poses_at(index),
            bake(set_anew(shot, float(frame)), np.zeros(1)).titles["title"].poses_at(0),
            atol=1e-9,
        )


@given(st.lists(st.sampled_from(sorted(MOVING)), min_size=1, max_size=6, unique=True))
def test_what_only_moves_letters_never_makes_a_body(pointers: list[str]) -> None:
    shot = moving(title(), {pointer: MOVING[pointer] for pointer in pointers})
    bodies = BodyStore()
    run = bake(shot, FRAMES).titles["title"]
    names = {letter.body for form in run.forms for letter in bodies.named(form)}
    assert (
        names == {letter.body for letter in bodies.named(bake(shot, np.zeros(1)).titles["title"].forms[0])}
        and len(run.forms) == 1
    )


@pytest.mark.parametrize(
    "change",
    [
        {"deformations": [Deformation(kind="bend", amount=40, over="title")]},
        {"outlines": Outlines(weld=True)},
    ],
)
def test_where_shape_goes_by_place_each_place_is_a_form(change: dict[str, object]) -> None:
    shot = moving(title(**change), {"/setting/tracking": (-200.0, 100.0)})
    baked = bake(shot, FRAMES).titles["title"]
    assert len(baked.forms) == len(FRAMES) and len({form.key for form in baked.forms}) == len(FRAMES)


@pytest.mark.parametrize(
    "where", ["finish", "shells/0/finish", "sets/0/finish", "ranges/0/finish", "wire/finish"]
)
def test_a_finish_never_rebuilds_a_body(where: str) -> None:
    made = title(shells=[Shell()], wire=Wire(edges="all"))
    made.sets[0].own_finish = made.ranges[0].own_finish = True
    shot = Shot(things={"title": made})
    edited = apply_edit(
        shot,
        [{"op": "replace", "path": f"/things/title/{where}", "value": Finish(roughness=0.77).model_dump()}],
    ).shot
    before, after = (bake(one, np.zeros(1)).titles["title"].forms[0] for one in (shot, edited))
    assert before.key == after.key and before.outlines_key == after.outlines_key


def test_the_finishes_of_a_mark_never_rebuild_it_but_their_number_counts() -> None:
    mark = Mark(pieces=[Piece(path="M0 0L1 0L0 1Z")], finishes=[Finish()])
    key = bake(Shot(things={"m": mark}), np.zeros(1)).titles["m"].forms[0].key
    for finishes, same in (([Finish(metallic=0)], True), ([Finish(), Finish()], False)):
        other = mark.model_copy(update={"finishes": finishes})
        assert (bake(Shot(things={"m": other}), np.zeros(1)).titles["m"].forms[0].key == key) is same


def test_what_shapes_a_body_changes_its_form() -> None:
    shot = Shot(things={"title": title()})
    key = bake(shot, np.zeros(1)).titles["title"].forms[0].key
    for path, value in (
        ("body/depth", 0.5),
        ("words", "EBB"),
        ("setting/size", 0.7),
        ("setting/typeface", "anton"),
        ("outlines/spread", 0.01),
        ("setting/case", "lower"),
        ("ranges/0/size", 2.0),
        ("shells", [Shell().model_dump()]),
        ("body/front/reach", 0.004),
    ):
        edited = apply_edit(shot, [{"op": "replace", "path": f"/things/title/{path}", "value": value}]).shot
        assert bake(edited, np.zeros(1)).titles["title"].forms[0].key != key, path


def test_the_stage_moves_letters_without_building_anything() -> None:
    shot = moving(title(body=Body(depth=0.1)), {"/sets/0/turn/x": (0.0, 80.0)})
    bodies = BodyStore()
    stage = Stage(bodies)
    stage.show(exposed(shot, 0.0))
    scene, built = stage.scene, bodies.mark()
    for frame in (3.0, 11.0):
        state = exposed(shot, frame)
        stage.show(state)
        assert stage.scene is scene and bodies.mark() == built
        import mitsuba as mi

        params = mi.traverse(stage.scene)
        letters = bodies.letters(state.titles["title"].form)
        where = state.during[0].titles["title"] if state.during else state.titles["title"]
        place = where.matrix @ body_matrices(letters, where.poses)
        first = next(i for i, letter in enumerate(letters) if letter.finish == 0)
        body = bodies.get(letters[first].body)
        assert body is not None
        corners = np.unique(body.part("face"))
        expected = body.position[corners] @ place[first, :3, :3].T + place[first, :3, 3]
        found = np.array(params["title_0_face.vertex_positions"]).reshape(-1, 3)[: len(corners)]
        np.testing.assert_allclose(found, expected, atol=1e-5)


def test_one_key_on_one_letter_moves_that_letter_alone() -> None:
    shot = moving(title(sets=[]), {"/setting/poses/letter-1/turn/y": (0.0, 90.0)})
    states = [frame_state(shot, bake(shot, np.array([f])), 0).titles["title"].poses for f in (0.0, 11.0)]
    moved = np.flatnonzero(np.abs(states[0] - states[1]).max(axis=(1, 2)) > 1e-9)
    assert moved.tolist() == [1]


@given(st.tuples(*[st.floats(-720, 720)] * 3), st.floats(0.1, 4), st.floats(-60, 60))
def test_matrices_are_what_they_say(angles: tuple[float, float, float], stretch: float, lean: float) -> None:
    turned = rotation(np.array(angles))
    np.testing.assert_allclose(turned @ turned.T, np.eye(3), atol=1e-9)
    assert np.linalg.det(turned) == pytest.approx(1)
    centre = np.array([0.3, -1.0, 2.0])
    matrix = about(centre, turned @ skew(np.array(stretch), np.array(lean)), np.array([1.0, 0, 0]))
    np.testing.assert_allclose(applied(matrix, centre), centre + np.array([1.0, 0, 0]), atol=1e-9)
    assert np.linalg.det(skew(np.array(stretch), np.array(lean))) == pytest.approx(stretch)


def test_scripts_that_are_written_joined_are_welded() -> None:
    joined, apart = Title(words="\u0645\u062f"), Title(words="EBB")
    assert joined.welds and not apart.welds
    assert Title(words="EBB", outlines=Outlines(weld=True)).welds
    # A welded outline depends on where its letters stand.
    assert only_poses(apart, "/setting/tracking") and not only_poses(joined, "/setting/tracking")
