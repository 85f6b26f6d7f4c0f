"""The traced picture against what physics and geometry say it must be."""

from __future__ import annotations

import math

import numpy as np
import pytest

from dreizack.core.document import (
    Backdrop,
    Camera,
    Colour,
    Finish,
    Format,
    Light,
    Setting,
    Shot,
    Surroundings,
    Vector,
)
from dreizack.core.light import studio
from dreizack.core.render import Progressive, Quality, Stage, Stopped, Window, trace
from dreizack.core.render.sampling.launch import light_picture
from dreizack.core.scene import BodyStore, bake, body_matrices, frame_state
from tests.conftest import plain_title

SIZE = (160, 90)


def stage_of(shot: Shot, frame: float = 0.0) -> Stage:
    stage = Stage(BodyStore())
    stage.show(frame_state(shot, bake(shot, np.array([frame])), 0))
    return stage


def traced(shot: Shot, samples: int = 64, size: tuple[int, int] = SIZE, frame: float = 0.0) -> np.ndarray:
    return trace(stage_of(shot, frame), *size, Quality(samples, "high")).rgba


def card(**more: object) -> Shot:
    """A large white matte letter I, seen from straight in front: a card to measure light on."""
    title = plain_title("I")
    title.setting = Setting(typeface="archivo-black", size=4, align="centre")
    title.finish = Finish(base_colour=Colour(r=1, g=1, b=1), metallic=0, roughness=1)
    title.place.position = Vector(x=0, y=-2, z=-0.1)
    return Shot(
        format=Format(width=160, height=90, frames=1),
        things={"title": title},
        camera=Camera(position=Vector(x=0, y=0, z=8), aim=Vector(x=0, y=0, z=0), focal_length=200),
        surroundings=Surroundings(studio="dark", strength=-16),
        backdrop=Backdrop(colour=Colour(r=0, g=0, b=0)),
        **more,
    )


def test_a_panel_at_three_metres_gives_a_white_card_the_value_one() -> None:
    shot = card()
    shot.things["panel"] = Light(
        intensity=0, width=0.05, height=0.05, position=Vector(x=0, y=0, z=3), aim=Vector(x=0, y=0, z=0)
    )
    middle = traced(shot, 256)[40:50, 75:85, :3]
    # The diffuse lobe of the principled finish is Burley's: facing light and eye it is close to, not exactly,
    # Lambert's.
    assert middle.mean() == pytest.approx(1.0, rel=0.05)


def test_light_falls_off_with_the_square_of_the_distance_and_doubles_with_a_stop() -> None:
    values = {}
    for name, stops, z in (("near", 0.0, 3.0), ("far", 0.0, 6.0), ("stop", 1.0, 3.0)):
        shot = card()
        shot.things["panel"] = Light(
            intensity=stops,
            width=0.05,
            height=0.05,
            position=Vector(x=0, y=0, z=z),
            aim=Vector(x=0, y=0, z=0),
        )
        values[name] = float(traced(shot, 128)[40:50, 75:85, :3].mean())
    assert values["near"] / values["far"] == pytest.approx(4, rel=0.01)
    assert values["stop"] / values["near"] == pytest.approx(2, rel=0.01)


def test_the_picture_is_where_geometry_says(shot: Shot) -> None:
    """Silhouette of the traced picture against the projected triangles, filled by a rasteriser of its own."""
    import cv2

    shot.camera.roll = 20.0
    stage = stage_of(shot)
    width, height = 320, 180
    alpha = trace(stage, width, height, Quality(128, "fast")).rgba[..., 3]
    state = stage.state
    assert state is not None
    position, aim = state.pose.position, state.pose.aim
    forward = (aim - position) / np.linalg.norm(aim - position)
    right = np.cross(forward, [0, 1, 0])
    right /= np.linalg.norm(right)
    up = np.cross(right, forward)
    roll = math.radians(20)
    right, up = right * math.cos(roll) - up * math.sin(roll), up * math.cos(roll) + right * math.sin(roll)
    mask = np.zeros((height * 8, width * 8), np.uint8)
    half = math.tan(math.radians(state.pose.angle / 2))
    title = state.titles["title"]
    bodies = BodyStore()
    letters = bodies.letters(title.form)
    for letter, place in zip(letters, title.matrix @ body_matrices(letters, title.poses), strict=True):
        body = bodies.get(letter.body)
        assert body is not None
        world = body.position @ place[:3, :3].T + place[:3, 3]
        away = world - position
        depth = away @ forward
        x = (away @ right / depth / half / (width / height) + 1) / 2 * width * 8
        y = (1 - away @ up / depth / half) / 2 * height * 8
        for triangle in np.column_stack([x, y])[body.triangles]:
            cv2.fillConvexPoly(mask, np.rint((triangle - 0.5) * 16).astype(np.int32), 255, shift=4)
    # The rasteriser paints every pixel it touches: half a pixel of its own grid too many.
    mask = cv2.erode(mask, np.ones((2, 2), np.uint8))
    truth = cv2.resize(mask, (width, height), interpolation=cv2.INTER_AREA) / 255 > 0.5
    seen = alpha > 0.5
    assert (truth & seen).sum() / (truth | seen).sum() > 0.99


def light_of(stage: Stage, size: tuple[int, int], samples: int) -> np.ndarray:
    """Light (rows, columns, 4) with as many samples everywhere, as it is."""
    return np.mean(
        [
            light_picture(stage, stage.at_moment(0), size, Window(0, 0, *size), 16, first)
            for first in range(0, samples, 16)
        ],
        axis=0,
    )


def test_bright_panels_and_surroundings_are_not_seen_themselves(shot: Shot) -> None:
    rgba = traced(shot, 4)
    assert rgba[0, 0].max() == 0
    assert rgba[..., 3].max() > 0.99


def test_denoised_pictures_are_nearer_to_the_truth_than_undenoised_ones(shot: Shot) -> None:
    stage = stage_of(shot)
    truth = trace(stage, *SIZE, Quality(1024, "high")).rgba[..., :3]
    rough = Progressive(stage, *SIZE, 4)
    while not rough.done:
        rough.step()
    noisy = rough.light.mean()[..., :3]
    clean = rough.view("balanced").rgba[..., :3]
    error = lambda a: float(np.sqrt(np.mean((np.minimum(a, 2) - np.minimum(truth, 2)) ** 2)))  # noqa: E731
    assert error(clean) < 0.6 * error(noisy)


def test_a_stage_that_followed_changes_shows_what_a_new_one_shows(shot: Shot) -> None:
    followed = Stage(BodyStore())
    later = shot.model_copy(deep=True)
    later.things["title"].place.rotation.y = 30
    later.things["title"].finish.roughness = 0.6
    later.things["key"].intensity = -1
    later.camera.position.x = -1
    later.surroundings.rotation = 70
    for version in (shot, later):
        followed.show(frame_state(version, bake(version, np.zeros(1)), 0))
    quality = Quality(64, "high")
    a, b = trace(followed, *SIZE, quality).rgba, trace(stage_of(later), *SIZE, quality).rgba
    np.testing.assert_allclose(a, b, atol=1e-4)
    words = later.model_copy(deep=True)
    words.things["title"].words = "EBBS"
    followed.show(frame_state(words, bake(words, np.zeros(1)), 0))
    assert np.abs(trace(followed, *SIZE, quality).rgba - a).max() > 0.1


def test_nobody_waits_for_a_picture_that_is_called_off(shot: Shot) -> None:
    stage = stage_of(shot)
    with pytest.raises(Stopped):
        trace(stage, *SIZE, Quality(64, "high"), stopped=lambda: True)
    picture = Progressive(stage, *SIZE, 4)
    while not picture.first:
        picture.step()
    with pytest.raises(Stopped):
        picture.view("high", stopped=lambda: True)
    assert np.isfinite(picture.view("fast").rgba).all()


@pytest.mark.parametrize(
    "change",
    [
        lambda s: setattr(s.camera, "aim", s.camera.position.model_copy()),
        lambda s: setattr(s.camera, "position", Vector(x=0, y=9, z=0)),
        lambda s: setattr(s.things["key"], "aim", s.things["key"].position.model_copy()),
        lambda s: setattr(s.things["title"], "words", " \n "),
        lambda s: s.things.clear(),
        lambda s: setattr(s.things["title"].finish, "roughness", 0.0),
        lambda s: setattr(s.things["key"], "position", Vector(x=0, y=0.25, z=0)),
    ],
)
def test_odd_scenes_still_give_a_finite_picture(shot: Shot, change: object) -> None:
    change(shot)  # type: ignore[operator]
    assert np.isfinite(traced(shot, 4)).all()


def test_studio_names_are_those_that_can_be_made() -> None:
    assert set(studio.STUDIOS) == set(studio._STUDIOS)
