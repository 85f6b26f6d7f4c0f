"""What letters look like by themselves: the same as if each had a finish of its own."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.document import (
    Camera,
    Channel,
    Colour,
    Ease,
    Finish,
    Floor,
    Format,
    Key,
    LetterSet,
    Shot,
    Timing,
    Title,
    Vector,
)
from dreizack.core.document.file import read_shot
from dreizack.core.render.kernel.engine import engine
from dreizack.core.render.staging.stage import Stage
from dreizack.core.render.transport.feature_paths import trace_features
from dreizack.core.render.transport.lens import camera_rays, pixel_cone_spread
from dreizack.core.scene import BodyStore, bake, exposed, frame_names, frame_state
from dreizack.core.scene.letter_looks import LOOK_VALUES
from tests.conftest import ROOT

from .test_render import traced

LETTERS = "IHI"


def shot_of(letters: LetterSet, finish: Finish | None = None) -> Shot:
    title = Title(words=LETTERS, sets=[letters])
    title.finish = finish or Finish(base_colour=Colour(r=0.7, g=0.6, b=0.5), roughness=0.4)
    return Shot(
        format=Format(width=160, height=90, frames=40),
        things={"title": title, "floor": Floor()},
        camera=Camera(position=Vector(x=0.3, y=0.5, z=2.2), aim=Vector(x=0, y=0.2, z=0)),
    )


def of_its_own(**changed: object) -> LetterSet:
    own = Finish(base_colour=Colour(r=0.7, g=0.6, b=0.5), roughness=0.4)
    for name, value in changed.items():
        setattr(own, name, value)
    return LetterSet(rule="range", first=1, last=1, own_finish=True, finish=own)


@pytest.mark.parametrize(
    ("looks", "finish"),
    [
        ({"tint": Colour(r=1, g=0.2, b=0.1)}, {"base_colour": Colour(r=0.7, g=0.12, b=0.05)}),
        ({"roughness": 0.5}, {"roughness": 0.9}),
        ({"opacity": 0.25}, {"opacity": 0.25}),
        ({"glow": 3.0}, {"emission": 3.0}),
        (
            {"glow": 3.0, "tint": Colour(r=1, g=0.5, b=0)},
            {
                "emission": 3.0,
                "base_colour": Colour(r=0.7, g=0.3, b=0),
                "emission_colour": Colour(r=1, g=0.5, b=0),
            },
        ),
    ],
    ids=["tint", "roughness", "opacity", "glow", "tinted glow"],
)
def test_letters_look_as_if_they_had_a_finish_of_their_own(
    looks: dict[str, object], finish: dict[str, object]
) -> None:
    letters = LetterSet(rule="range", first=1, last=1)
    for name, value in looks.items():
        setattr(letters, name, value)
    seen, wanted = traced(shot_of(letters), 256), traced(shot_of(of_its_own(**finish)), 256)
    # Blocks of pixels, as both pictures have noise.
    blocks = [p[..., :3].reshape(9, 10, 16, 10, 3).mean(axis=(1, 3)) for p in (seen, wanted)]
    plain = traced(shot_of(LetterSet()), 256)[..., :3].reshape(9, 10, 16, 10, 3).mean(axis=(1, 3))
    changed = np.abs(blocks[1] - plain).max()
    assert changed > 0.02
    assert np.abs(blocks[0] - blocks[1]).max() < 0.12 * changed + 0.004


def keyed(**timing: object) -> Shot:
    letters = LetterSet(rule="every", step=1, timing=Timing(**timing))  # type: ignore[arg-type]
    shot = shot_of(letters)
    linear = Ease(kind="linear")
    shot.channels = {
        "/things/title/sets/0/glow": Channel(
            keys=[Key(frame=0, value=0, ease=linear), Key(frame=10, value=5)]
        )
    }
    return shot


def test_letters_light_up_one_after_the_other() -> None:
    shot = keyed(order="reading", delay=4.0)
    looks = bake(shot).titles["title"].looks
    assert looks is not None
    glow = looks[..., LOOK_VALUES.index("glow")]
    frames = np.arange(40.0)[:, None] - np.array([0.0, 4.0, 8.0])
    np.testing.assert_allclose(glow, np.clip(frames / 10, 0, 1) * 5, atol=1e-9)


def test_looks_make_no_new_bodies_and_names_of_frames_follow_them() -> None:
    shot = keyed(order="reading", delay=4.0)
    body = bake(shot).titles["title"]
    assert len(body.forms) == 1 and len(body.poses) == 1
    names = frame_names(shot, np.arange(40.0))
    assert len(set(names[:18])) == 18 and len(set(names[20:])) == 1


def test_nothing_is_kept_where_letters_look_as_their_finish_says() -> None:
    shot = shot_of(LetterSet(move=Vector(x=1, y=0, z=0)))
    assert bake(shot).titles["title"].looks is None
    assert frame_state(shot, bake(shot), 0).titles["title"].layers == ((),)


def test_triangles_as_thin_as_hairs_have_the_colour_of_their_letter() -> None:
    shot = read_shot((ROOT / "examples/part-one.json").read_text())
    assert shot.titles["title"].sets
    state = exposed(shot, 58.0, bake(shot, np.array([58.0])), 0)
    stage = Stage(BodyStore())
    stage.show(state)
    size, mi = (480, 270), engine()
    # Where the stem of a letter meets its edge, the face has triangles a thousandth as wide as they are long.
    pixels = np.concatenate([np.arange(57, 79) * size[0] + x for x in range(101, 106)])
    ray, sampler = camera_rays(state, size, pixels, 128, 0)
    found = trace_features(stage.tables, ray, sampler, pixel_cone_spread(state, size))
    for part in found[:2]:
        assert np.isfinite(np.array(mi.Vector3f(part))).all()
    albedo = np.array(found[0].x)
    assert len(albedo) == len(pixels) * 128 and (albedo > 0).mean() > 0.5
