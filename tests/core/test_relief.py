"""Fine relief: filtered slopes, and the look of what is too fine to be seen."""

from __future__ import annotations

import time

import numpy as np
import pytest

from dreizack.core.document import (
    Camera,
    Colour,
    Finish,
    Format,
    Light,
    Setting,
    Shot,
    Surroundings,
    Title,
    Vector,
)
from dreizack.core.finish import BUMPS, bump_heights
from dreizack.core.render import Quality, Stage, Stopped, Window, trace
from dreizack.core.render.kernel.engine import engine
from dreizack.core.render.sampling import launch as passes
from dreizack.core.render.sampling.launch import feature_picture, light_picture
from dreizack.core.render.transport.relief import bump_slopes
from dreizack.core.scene import BodyStore, bake, frame_state

SIZE = (96, 54)


def card(bump: str, size: float, distance: float, depth: float = 0.5) -> Stage:
    """A metal card that fills the frame, before a panel beside the camera."""
    title = Title(
        words="I",
        setting=Setting(typeface="archivo-black", size=4),
        finish=Finish(
            base_colour=Colour(r=0.9, g=0.9, b=0.9),
            metallic=1,
            roughness=0.25,
            bump=bump,
            bump_size=size,
            bump_depth=depth,
        ),
    )
    title.body.front.profile = title.body.back.profile = "none"
    title.place.position = Vector(x=0, y=-2, z=-title.body.depth / 2)
    shot = Shot(
        format=Format(width=SIZE[0], height=SIZE[1], frames=1),
        things={
            "title": title,
            "panel": Light(width=3, height=1, position=Vector(x=1.5, y=1, z=6), aim=Vector(x=0, y=0, z=0)),
        },
        surroundings=Surroundings(studio="dark", strength=-16),
        camera=Camera(
            position=Vector(x=0, y=0, z=distance), aim=Vector(x=0, y=0, z=0), focal_length=36 * distance / 0.6
        ),
    )
    stage = Stage(BodyStore())
    stage.show(frame_state(shot, bake(shot, np.zeros(1)), 0))
    return stage


@pytest.mark.parametrize("kind", BUMPS)
def test_every_level_of_a_relief_has_its_mean_slopes_and_squares(kind: str) -> None:
    levels = bump_slopes(kind)
    assert [len(level) for level in levels] == [256, 128, 64, 32, 16, 8, 4, 2, 1]
    for level in levels[1:]:
        np.testing.assert_allclose(level.mean(axis=(0, 1)), levels[0].mean(axis=(0, 1)), atol=1e-5)
    # A relief that repeats rises as much as it falls, and is not flat.
    flat = levels[-1][0, 0]
    assert (np.abs(flat[:2]) < 0.1 * np.sqrt(flat[2:])).all()
    assert (flat[2:] > 1e-6).all()


def test_slopes_are_those_of_the_heights() -> None:
    heights, slopes = bump_heights("ripples")[::-1], bump_slopes("ripples")[0]
    # Over two texels, where the four texels around a corner meet.
    across = (
        np.roll(heights, -2, 1) + np.roll(np.roll(heights, -2, 1), -1, 0) - heights - np.roll(heights, -1, 0)
    ) / 4
    found = (slopes[..., 0] + np.roll(slopes[..., 0], -1, 1)) / 2
    # The steepest are held back.
    assert np.corrcoef(found.ravel(), across.ravel())[0, 1] > 0.99


def seen(stage: Stage, samples: int) -> float:
    """Mean light in the middle of the frame."""
    window = Window(40, 20, 16, 14)
    found = [
        light_picture(stage, stage.at_moment(0), SIZE, window, 64, first)[..., :3].mean()
        for first in range(0, samples, 64)
    ]
    return float(np.mean(found))


# Of flakes, few facets lie far away from all others: no distribution of microfacets is like that, once they
# lean much.
@pytest.mark.parametrize(
    ("kind", "depth"), [*((kind, 0.1) for kind in BUMPS), ("brushed", 0.5), ("grain", 0.5), ("weave", 0.5)]
)
def test_relief_too_fine_to_be_seen_looks_as_if_every_bump_were(
    kind: str, depth: float, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Against brute force: rays that never widen see every bump, and very many of them know what it all looks
    like."""
    # A pixel is 6 mm wide, a bump 1.
    fine = card(kind, 0.001, 8, depth)
    filtered = seen(fine, 256)
    monkeypatch.setattr(passes, "pixel_cone_spread", lambda *_: engine().Float(0.0))
    brute, without = seen(fine, 2048), seen(card("none", 0.001, 8), 256)
    assert abs(np.log(filtered / brute)) < max(0.12, 0.2 * abs(np.log(without / brute)))


def test_relief_that_can_be_seen_is_seen_and_fades_with_distance() -> None:
    def unevenness(distance: float) -> float:
        stage = card("ripples", 0.05, distance)
        normals = feature_picture(stage, stage.at_moment(0), SIZE, Window(30, 15, 32, 24), 16, 0)[..., 3:]
        return float(normals[..., 0].std())

    # The lens grows with the distance, so that the frame stays as wide: nothing but the distance changes.
    near, far = unevenness(4), unevenness(16)
    assert near > 0.02
    assert abs(far / near - 1) < 0.1


def test_a_kernel_ends_in_the_middle_once_nobody_wants_it() -> None:
    stage = card("none", 0.01, 8)
    trace(stage, *SIZE, Quality(16, "fast"))
    began = time.monotonic()
    with pytest.raises(Stopped):
        # This would take minutes.
        trace(stage, 1920, 1080, Quality(2048, "fast"), stopped=lambda: time.monotonic() - began > 0.5)
    assert time.monotonic() - began < 20
    assert np.isfinite(trace(stage, *SIZE, Quality(16, "fast")).rgba).all()
    assert trace(stage, *SIZE, Quality(16, "fast")).rgba[..., :3].mean() > 0
