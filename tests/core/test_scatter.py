"""Light that is turned within cloudy bodies, against formulas."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.document import Camera, Colour, Finish, Format, Setting, Shot, Surroundings, Title, Vector
from dreizack.core.render import Stage, Window
from dreizack.core.render.sampling.launch import light_picture
from dreizack.core.render.transport.materials import CLOUDY
from dreizack.core.scene import BodyStore, bake, frame_state

SIZE = (96, 54)


def slab(depth: float, **terms: object) -> Stage:
    """A slab that fills the middle of the frame and bends nothing, seen straight on, in white
    surroundings."""
    title = Title(
        words="I",
        setting=Setting(typeface="archivo-black", size=4),
        finish=Finish(
            base_colour=Colour(r=1, g=1, b=1), metallic=0, roughness=0.03, ior=1.0, transmission=1, **terms
        ),
    )
    title.body.depth = depth
    title.body.front.profile = title.body.back.profile = "none"
    title.place.position = Vector(x=0, y=-2, z=-depth / 2)
    shot = Shot(
        format=Format(width=SIZE[0], height=SIZE[1], frames=1),
        things={"title": title},
        surroundings=Surroundings(studio="overcast", strength=0),
        camera=Camera(position=Vector(x=0, y=0, z=8), aim=Vector(x=0, y=0, z=0), focal_length=300),
    )
    stage = Stage(BodyStore())
    stage.show(frame_state(shot, bake(shot, np.zeros(1)), 0))
    return stage


def middle(stage: Stage, samples: int) -> np.ndarray:
    window = Window(44, 24, 8, 6)
    return np.mean(
        [
            light_picture(stage, stage.at_moment(0), SIZE, window, 64, first).mean(axis=(0, 1))
            for first in range(0, samples, 64)
        ],
        axis=0,
    )


@pytest.fixture
def white(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(
        "dreizack.core.render.staging.stage.around_picture", lambda _: np.ones((256, 512, 3), np.float32)
    )


@pytest.mark.parametrize(
    ("scatter", "distance", "depth"), [(0.2, 0.5, 0.2), (1.0, 2.0, 0.1), (0.5, 0.3, 0.05)]
)
def test_what_is_not_turned_goes_straight_on(
    white: None, scatter: float, distance: float, depth: float
) -> None:
    """Beer and Lambert: the share that gets through unturned falls exponentially with the depth."""
    alpha = middle(slab(depth, scatter=scatter, attenuation_distance=distance), 1024)[3]
    assert alpha == pytest.approx(1 - np.exp(-scatter * CLOUDY / distance * depth), abs=0.02)


def test_cloudy_bodies_that_absorb_nothing_vanish_in_white(white: None) -> None:
    """However often light is turned: what comes in from everywhere alike goes out alike."""
    r, g, b, alpha = middle(slab(0.2, scatter=0.6, attenuation_distance=0.5), 1024)
    assert alpha > 0.85
    assert np.array([r, g, b]) + 1 - alpha == pytest.approx([1, 1, 1], abs=0.02)


def test_colour_in_depth_shows_the_more_the_cloudier_a_body_is(white: None) -> None:
    """Turned light goes further within it."""
    tinted = {"attenuation_colour": Colour(r=1, g=0.6, b=0.3), "attenuation_distance": 0.3}

    def redness(scatter: float) -> float:
        r, _, b, alpha = middle(slab(0.2, scatter=scatter, **tinted), 512)
        return float((r + 1 - alpha) / max(b + (1 - alpha), 1e-6))

    clear, cloudy = redness(0.05), redness(1.0)
    assert cloudy > clear
    assert cloudy > 1.5
