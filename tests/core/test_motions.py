"""Ready-made movements: plain sets and keys that fit, do what they say, and end where the thing stands."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.document import (
    Channel,
    Coupling,
    EditRefused,
    Floor,
    Format,
    Key,
    LetterSet,
    Light,
    Mark,
    Mesh,
    Pivot,
    Sheet,
    Shot,
    Title,
    Vector,
    apply_edit,
)
from dreizack.core.motions import (
    MOTIONS,
    MotionFileError,
    applied,
    copied_motion,
    motion_of,
    moved_like,
    read_motion,
    write_motion,
)
from dreizack.core.scene import bake

THINGS = {
    "title": Title(words="EBB TIDE"),
    "mark": Mark(),
    "mesh": Mesh(),
    "sheet": Sheet(),
    "pivot": Pivot(),
    "light": Light(aim=Vector(x=0, y=0.3, z=0)),
}


def shot_of(**more: object) -> Shot:
    return Shot.model_validate(
        {"format": Format(frames=200), "things": {k: v.model_copy(deep=True) for k, v in THINGS.items()}}
        | more
    )


CASES = [(motion.name, kind) for motion in MOTIONS.values() for kind in motion.kinds]


@pytest.mark.parametrize(("name", "kind"), CASES)
def test_every_movement_is_one_edit_that_fits_and_moves_something(name: str, kind: str) -> None:
    shot, motion = shot_of(), MOTIONS[name]
    edit = apply_edit(shot, applied(shot, motion, kind, 20, motion.frames))
    assert apply_edit(edit.shot, edit.inverse).shot == shot
    before, after = bake(shot), bake(edit.shot)
    moved = []
    if kind in ("title", "mark", "mesh", "sheet"):
        one, other = before.titles[kind], after.titles[kind]
        moved += [
            np.ptp(other.matrix, axis=0).max(),
            np.ptp(other.poses, axis=0).max() if len(other.poses) > 1 else 0,
        ]
        moved += [
            np.ptp(other.looks, axis=0).max() if other.looks is not None else 0,
            float(len(other.forms) > 1),
            np.ptp(other.reveal, axis=0).max() if other.reveal is not None else 0,
        ]
        # How it arrives ends where it stands, and how it leaves begins there.
        if motion.when in ("arrival", "departure"):
            rest = 199 if motion.when == "arrival" else 0
            at = min(rest, len(other.poses) - 1)
            np.testing.assert_allclose(other.poses[at][: len(one.poses[0])], one.poses[0], atol=1e-6)
            np.testing.assert_allclose(other.matrix[rest], one.matrix[0], atol=1e-6)
            if other.looks is not None:
                np.testing.assert_allclose(
                    other.looks[min(rest, len(other.looks) - 1)],
                    [[1, 0, 0, 1, 1, 1]] * len(one.poses[0]),
                    atol=1e-6,
                )
            if other.reveal is not None:
                np.testing.assert_allclose(other.reveal[rest][:2], [0, 1], atol=1e-6)
            words = edit.shot.titles.get(kind)
            assert len(other.forms) == 1 or (words is not None and words.telling.kind != "as typed")
    elif kind == "pivot":
        moved.append(np.ptp(after.pivots[kind], axis=0).max())
    elif kind == "light":
        moved += [
            np.ptp(after.lights[kind].matrix, axis=0).max(),
            np.ptp(after.lights[kind].radiance, axis=0).max(),
        ]
    elif kind == "camera":
        moved += [
            np.ptp(after.camera_position, axis=0).max(),
            np.ptp(after.camera_aim, axis=0).max(),
            np.ptp(after.focus),
            np.ptp(after.camera_roll),
        ]
    else:
        moved.append(np.ptp(after.surroundings_rotation))
    assert max(moved) > 1e-3
    assert np.isfinite(after.camera_position).all()


@pytest.mark.parametrize(
    "name", [m.name for m in MOTIONS.values() if m.when == "arrival" and "title" in m.kinds]
)
def test_arrivals_take_the_time_they_are_given(name: str) -> None:
    shot = shot_of()
    for length in (10, 60):
        edit = apply_edit(shot, applied(shot, MOTIONS[name], "title", 30, length))
        body = bake(edit.shot, np.array([30.0 + length, 199.0])).titles["title"]
        np.testing.assert_allclose(body.poses[0], body.poses[-1], atol=1e-6)
        assert edit.shot.titles["title"].span.arrival in (0, length)


def test_there_are_at_least_thirty_and_each_is_told_apart() -> None:
    assert len(MOTIONS) >= 30
    assert len({m.label for m in MOTIONS.values()}) == len(MOTIONS)
    assert all(m.tells.endswith(".") for m in MOTIONS.values())


def test_what_does_not_fit_is_refused_in_words() -> None:
    shot = shot_of(things={"floor": Floor(), "title": Title(sets=[LetterSet()] * 12)})
    with pytest.raises(EditRefused, match="moves a title or mark, not a floor"):
        applied(shot, MOTIONS["shutters"], "floor", 0, 20)
    with pytest.raises(EditRefused, match="has 12 sets already"):
        applied(shot, MOTIONS["shutters"], "title", 0, 20)
    with pytest.raises(KeyError):
        applied(shot, MOTIONS["shutters"], "nobody", 0, 20)


def test_an_orbiting_camera_goes_on_from_where_it_stands() -> None:
    shot = shot_of()
    moved = apply_edit(shot, applied(shot, MOTIONS["around"], "camera", 0, 100)).shot
    position = bake(shot, np.zeros(1)).camera_position[0]
    # Ten degrees beyond where it stood, as far away, as high.
    end = bake(moved, np.array([100.0]))
    far = np.linalg.norm(position - bake(shot, np.zeros(1)).camera_aim[0])
    assert np.linalg.norm(end.camera_position[0] - end.camera_aim[0]) == pytest.approx(far, rel=1e-4)
    assert end.camera_position[0, 1] == pytest.approx(position[1], abs=1e-3)


def test_movement_goes_over_to_other_words_and_says_what_found_no_place() -> None:
    shot = shot_of()
    shot.things["small"] = Title(words="FLOOD")
    shot.things["small"].setting.size = 0.25  # type: ignore[union-attr]
    shot = apply_edit(shot, applied(shot, MOTIONS["up-from-the-ground"], "title", 10, 40)).shot
    shot.channels["/things/title/setting/tracking"] = Channel(keys=[Key(frame=0, value=3)])
    both = copied_motion(shot, "title", "small")
    after = apply_edit(shot, both.patch).shot
    assert both.lost == () and after.titles["small"].span == after.titles["title"].span
    own, copied = (after.channels[f"/things/{n}/sets/0/move/y"].keys[0].value for n in ("title", "small"))
    assert copied == pytest.approx(own / 2)
    mesh = copied_motion(shot, "title", "mesh")
    assert "/setting/tracking" in mesh.lost and "/sets/0/move/y" in mesh.lost
    apply_edit(shot, mesh.patch)


def test_what_is_kept_travels_as_a_file_and_moves_another_shot() -> None:
    shot = shot_of()
    shot = apply_edit(shot, applied(shot, MOTIONS["gather"], "title", 10, 40)).shot
    shot.couplings["/things/title/place/rotation/y"] = Coupling(
        source="/things/title/place/position/x", gain=3
    )
    shot.couplings["/things/title/place/scale"] = Coupling(source="/camera/exposure")
    name, kept = read_motion(write_motion("Drift in", motion_of(shot, "title")))
    assert name == "Drift in" and kept == motion_of(shot, "title")
    other = shot_of(things={"words": Title(words="SLACK"), "mesh": Mesh()})
    moved = apply_edit(other, moved_like(other, "words", kept).patch).shot
    assert moved.couplings["/things/words/place/rotation/y"].source == "/things/words/place/position/x"
    assert moved.couplings["/things/words/place/scale"].source == "/camera/exposure"
    one, two = bake(shot).titles["title"], bake(moved).titles["words"]
    assert np.ptp(two.poses, axis=0).max() > 1 and len(one.poses) == len(two.poses)
    lost = moved_like(other, "mesh", kept).lost
    assert any(below.startswith("/sets/") for below in lost) and "/place/scale" not in lost


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "no readable JSON"),
        ("[]", "missing at the top"),
        ('{"dreizack_look": 1}', "missing at the top"),
        ('{"dreizack_motion": 99, "name": "a"}', "newer version"),
        ('{"dreizack_motion": true, "name": "a"}', "number of its version"),
        ('{"dreizack_motion": 1}', "no name"),
        ('{"dreizack_motion": 1, "name": "a", "size": -3}', "at /size"),
        ('{"dreizack_motion": 1, "name": "a", "sets": "' + "[" * 9 + '"}', "at /sets"),
        ('{"dreizack_motion": 1, "name": "a", "span": ' + '{"a":' * 60 + "1" + "}" * 60 + "}", "nested"),
        ("[" * 100_000, "no readable JSON"),
    ],
)
def test_files_that_are_no_movements_are_refused_in_words(text: str, words: str) -> None:
    with pytest.raises(MotionFileError, match=words):
        read_motion(text)


@pytest.mark.parametrize("hazy", [False, True])
def test_a_light_that_passes_behind_brings_rays_where_no_haze_shows_it(hazy: bool) -> None:
    shot = shot_of()
    shot.surroundings.air.density = 0.2 if hazy else 0.0
    moved = apply_edit(shot, applied(shot, MOTIONS["passing-behind"], "light", 20, 76)).shot
    light = bake(moved, np.arange(20.0, 96)).lights["light"]
    across = light.position[:, 0]
    assert (np.diff(across) >= 0).all() and across[0] == pytest.approx(-across[-1], abs=0.2)
    assert (light.position[:, 2] < -0.3).all() and light.position[:, 1] == pytest.approx(0.3)
    assert moved.optics.rays.light == ("" if hazy else "light")
    assert (moved.optics.rays.amount > 0) is not hazy
