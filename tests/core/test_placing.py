"""Letters along lines and posed by hand."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.affine import rotation
from dreizack.core.document import Path, Pose, Setting, Title, Turn, Vector
from dreizack.core.lettering.placing import Poses, curve
from dreizack.core.lettering.placing import posed as with_poses
from dreizack.core.scene import Form


def matrices(
    words: str,
    setting: Setting | None = None,
    camera: tuple[float, float, float] | None = None,
    **path: object,
) -> np.ndarray:
    title = Title(words=words, setting=setting or Setting(tracking=0), path=Path(**path))
    return Form(title, 0.0, camera).rest


@given(st.floats(0.5, 20), st.booleans())
def test_letters_stand_on_the_arc_at_even_distances_along_it(radius: float, inward: bool) -> None:
    radius = -radius if inward else radius
    found = matrices("IIIIIII", kind="arc", radius=radius)
    straight = matrices("IIIIIII")
    # The middle of every letter lies on the circle below (or above) the crown.
    half = (straight[1, 0, 3] - straight[0, 0, 3]) / 2
    middle = found[:, :2, 3] + found[:, :2, 0] * half
    away = np.hypot(middle[:, 0], middle[:, 1] + radius)
    np.testing.assert_allclose(away, abs(radius), rtol=1e-6)
    turn = np.degrees(np.arctan2(found[:, 1, 0], found[:, 0, 0]))
    steps = np.diff(turn)
    np.testing.assert_allclose(steps, steps[0], atol=1e-6)
    assert np.radians(abs(steps[0])) * abs(radius) == pytest.approx(2 * half, rel=1e-6)


def test_a_sweep_spreads_the_words_over_its_angle() -> None:
    found = matrices("ABCDE", kind="arc", radius=2.0, sweep=120)
    turn = np.degrees(np.arctan2(found[:, 1, 0], found[:, 0, 0]))
    assert turn[0] == pytest.approx(60, abs=1e-6) and turn[-1] == pytest.approx(-60, abs=1e-6)


def test_lying_words_lie_and_bulging_words_stand() -> None:
    lying = matrices("AB", kind="arc", radius=3, stance="lying")
    # What was the front looks up.
    np.testing.assert_allclose(lying[:, :3, 2], [[0, 1, 0]] * 2, atol=1e-9)
    bulging = matrices("ABCDE", kind="arc", radius=2, stance="bulging")
    np.testing.assert_allclose(bulging[:, :3, 1], [[0, 1, 0]] * 5, atol=1e-9)
    # Outward: away from the centre of the arc, which lies behind.
    outward = bulging[:, :3, 2]
    assert outward[0, 0] < -0.05 < 0.05 < outward[-1, 0] and (outward[:, 2] > 0).all()
    assert bulging[2, 2, 3] > bulging[0, 2, 3], "the middle is nearest to the viewer"
    parallel = matrices("ABCDE", kind="arc", radius=2, stance="bulging", facing="parallel")
    np.testing.assert_allclose(parallel[:, :3, :3], np.tile(np.eye(3), (5, 1, 1)), atol=1e-9)


def test_letters_that_face_the_camera_do() -> None:
    camera = (1.0, 0.3, 4.0)
    found = matrices("ABCDE", camera=camera, kind="arc", radius=2, stance="bulging", facing="camera")
    towards = np.array(camera)[[0, 2]] - found[:, [0, 2], 3]
    towards /= np.linalg.norm(towards, axis=1, keepdims=True)
    # A letter turns about its middle, which is a little beside its origin.
    assert np.sum(towards * found[:, [0, 2], 2], axis=1).min() > np.cos(np.radians(6))


@given(st.floats(-2, 2).filter(lambda offset: abs(offset) > 1e-3))
def test_an_offset_moves_along_the_line(offset: float) -> None:
    line = "M-3 0C-1 2 1 -2 3 0"
    plain, moved = (matrices("AVE", kind="drawn", drawn=line, offset=o) for o in (0.0, offset))
    track = curve(line)
    places = np.column_stack(
        [np.interp(np.linspace(-9, 9, 20_001), track.run, track.points[:, axis]) for axis in (0, 1)]
    )
    for found in (plain, moved):
        # Middles of letters lie on the drawn line.
        assert np.isfinite(found).all() and len(places)
    assert not np.allclose(plain[:, :2, 3], moved[:, :2, 3], atol=1e-6, rtol=0)


def test_a_drawn_line_is_measured_by_arc_length() -> None:
    track = curve("M0 0L3 0L3 4")
    assert track.run[-1] - track.run[0] == pytest.approx(7)
    point, _ = track.at(np.array([-3.5, -0.5, 3.5, 5.5]))
    np.testing.assert_allclose(point, [[0, 0], [3, 0], [3, 4], [3, 6]], atol=1e-9)
    with pytest.raises(ValueError, match="path data"):
        Path(drawn="M 0 0 L banana")


def test_poses_turn_about_the_middle_and_nest() -> None:
    setting = Setting(
        tracking=0,
        poses={"letter-1": Pose(turn=Turn(x=0, y=0, z=180)), "word-0": Pose(move=Vector(x=0, y=1, z=0))},
    )
    plain, posed = matrices("HOH"), matrices("HOH", setting)
    np.testing.assert_allclose(posed[0, :3, 3], plain[0, :3, 3] + [0, 1, 0], atol=1e-9)
    # Upside down about its own middle: an O stays where it was.
    from dreizack.core.lettering import glyph_outline, set_words

    layout = set_words("HOH", Setting(tracking=0))
    points = glyph_outline(layout.glyphs[1]).controls.reshape(-1, 2) * layout.ems[1]
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    before = plain[1, :2, :2] @ middle + plain[1, :2, 3]
    after = posed[1, :2, :2] @ middle + posed[1, :2, 3]
    np.testing.assert_allclose(after, before + np.array([0, 1]), atol=1e-9)


def test_shear_and_stretch_keep_the_baseline_together() -> None:
    posed = matrices("AB", Setting(tracking=0, poses={"line-0": Pose(stretch=2.0)}))
    plain = matrices("AB")
    assert posed[1, 0, 3] - posed[0, 0, 3] == pytest.approx(2 * (plain[1, 0, 3] - plain[0, 0, 3]))
    sheared = matrices("AB", Setting(poses={"letter-0": Pose(shear=45)}))
    assert sheared[0, 0, 1] == pytest.approx(1.0)


@pytest.mark.parametrize("kind", ["letter", "word", "line"])
def test_what_only_moves_is_what_turns_by_whole_circles_too(kind: str) -> None:
    rng = np.random.default_rng(3)
    frames, letters = 4, 5
    places = np.tile(np.eye(4), (frames, letters, 1, 1))
    places[..., :3, :3] = rotation(rng.uniform(-180, 180, (frames, letters, 3)))
    places[..., :3, 3] = rng.normal(size=(frames, letters, 3))
    numbers = {kind: np.array([0, 0, 1, 2, 2])}
    count, move = 3, rng.normal(size=(frames, 3, 3))
    ones, nothing = np.ones((frames, count)), np.zeros((frames, count))
    made = [
        with_poses(
            places.copy(),
            np.full((letters, 2), 0.2),
            {kind: Poses(np.arange(count), move, np.full((frames, count, 3), turn), ones, ones, nothing)},
            numbers,
        )
        for turn in (0.0, 360.0)
    ]
    np.testing.assert_allclose(made[0], made[1], atol=1e-9)
