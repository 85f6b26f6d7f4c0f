"""Things laid over what is behind them: added, screened, multiplied in scene light."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.document import (
    Backdrop,
    Camera,
    Colour,
    Finish,
    Format,
    Light,
    Place,
    Sheet,
    Shot,
    Surroundings,
    Vector,
    Visibility,
)
from dreizack.core.render import QUALITIES, Stage, trace
from dreizack.core.scene import BodyStore, bake, exposed


def glowing(r: float, g: float, b: float, z: float, base: float = 0.0, **visible: object) -> Sheet:
    finish = Finish(metallic=0, roughness=1, emission=1)
    finish.base_colour = Colour(r=base, g=base, b=base)
    finish.emission_colour = Colour(r=r, g=g, b=b)
    return Sheet(
        width=4,
        height=4,
        finish=finish,
        place=Place(position=Vector(x=0, y=0, z=z)),
        visibility=Visibility(**visible),  # type: ignore[arg-type]
    )


def shot_of(**things: object) -> Shot:
    return Shot(
        format=Format(width=64, height=36, frames=1),
        things=things,
        camera=Camera(position=Vector(x=0, y=0, z=6), aim=Vector(x=0, y=0, z=0), focal_length=60),
        surroundings=Surroundings(studio="dark", strength=-16),
        backdrop=Backdrop(kind="colour", colour=Colour(r=0.2, g=0.3, b=0.4)),
    )


def middle(shot: Shot) -> np.ndarray:
    stage = Stage(BodyStore())
    stage.show(exposed(shot, 0))
    quality = QUALITIES["draft"]
    return trace(stage, 64, 36, quality).rgba[14:22, 26:38].mean(axis=(0, 1))


def over(mode: str, front: Sheet) -> np.ndarray:
    front.visibility.blend = mode  # type: ignore[assignment]
    return middle(shot_of(back=glowing(0.5, 0.25, 0.1, 0), front=front))[:3]


BACK = np.array([0.5, 0.25, 0.1])


def test_light_is_added() -> None:
    found = over("add", glowing(0.2, 0.4, 0.8, 1))
    np.testing.assert_allclose(found, BACK + np.array([0.2, 0.4, 0.8]), atol=0.01)


def test_screening_keeps_below_one() -> None:
    own = np.array([0.2, 0.4, 0.8])
    found = over("screen", glowing(*own, 1))
    np.testing.assert_allclose(found, own + BACK * (1 - own), atol=0.01)


def test_colours_are_multiplied_whatever_falls_on_them() -> None:
    front = glowing(0, 0, 0, 1)
    front.finish.base_colour = Colour(r=0.5, g=0.25, b=1)
    found = over("multiply", front)
    np.testing.assert_allclose(found, BACK * [0.5, 0.25, 1], atol=0.01)
    front.finish.opacity = 0.5
    np.testing.assert_allclose(over("multiply", front), BACK * [0.75, 0.625, 1], atol=0.02)


def test_normal_hides_what_is_behind() -> None:
    np.testing.assert_allclose(over("normal", glowing(0.2, 0.4, 0.8, 1)), [0.2, 0.4, 0.8], atol=0.01)


def test_what_is_added_takes_nothing_up_and_what_multiplies_tints_the_backdrop() -> None:
    front = glowing(0.2, 0.4, 0.8, 1, blend="add")
    np.testing.assert_allclose(middle(shot_of(front=front)), [0.2, 0.4, 0.8, 0], atol=0.01)
    gel = glowing(0, 0, 0, 1, blend="multiply")
    gel.finish.base_colour = Colour(r=1, g=0.5, b=0)
    r, g, b, a = middle(shot_of(front=gel))
    assert [r, g, b, a] == pytest.approx([0.2, 0.15, 0.0, 1.0], abs=0.01)


def test_surroundings_are_seen_through_what_multiplies() -> None:
    gel = glowing(0, 0, 0, 1, blend="multiply")
    gel.finish.base_colour = Colour(r=1, g=0.5, b=0)
    shot = shot_of(front=gel)
    shot.surroundings, shot.backdrop = Surroundings(studio="softboxes"), Backdrop(kind="surroundings")
    r, g, b, a = middle(shot)
    clear = shot.model_copy(deep=True)
    clear.things["front"].finish.base_colour = Colour(r=1, g=1, b=1)  # type: ignore[union-attr]
    red, green, _, _ = middle(clear)
    assert red > 0.01
    assert [r, g, b, a] == pytest.approx([red, green / 2, 0, 1], abs=0.01)


def test_lights_fall_on_what_is_added() -> None:
    lamp = Light(source="sun", position=Vector(x=0, y=0, z=10), aim=Vector(x=0, y=0, z=0))
    white = glowing(0, 0, 0, 1, base=0.6)
    alone = middle(shot_of(lamp=lamp, front=white))[:3]
    white.visibility.blend = "add"
    back = glowing(0.5, 0.25, 0.1, 0)
    assert alone.min() > 0.02
    np.testing.assert_allclose(
        middle(shot_of(lamp=lamp, front=white, back=back))[:3], alone + BACK, rtol=0.03
    )


def test_shadows_go_by_what_comes_through() -> None:
    lamp = Light(source="sun", position=Vector(x=8, y=0, z=8), aim=Vector(x=0, y=0, z=0))
    wall = glowing(0, 0, 0, 0, base=0.8)

    def lit(mode: str | None) -> float:
        things: dict[str, object] = {"lamp": lamp, "wall": wall}
        if mode is not None:
            gel = glowing(0, 0, 0, 0, base=0.5, camera=False, blend=mode)
            gel.place.position = Vector(x=2, y=0, z=2)
            things["gel"] = gel
        return float(middle(shot_of(**things))[1])

    clear = lit(None)
    assert lit("normal") < 0.02 * clear
    assert lit("add") == pytest.approx(clear, rel=0.03)
    assert lit("multiply") == pytest.approx(clear / 2, rel=0.05)


def test_blends_are_part_of_what_a_picture_is_named_by() -> None:
    names = set()
    for mode in ("normal", "add", "screen", "multiply"):
        shot = shot_of(front=glowing(1, 1, 1, 1, blend=mode))
        names.add(str(exposed(shot, 0).titles["front"].key))
        assert bake(shot, np.zeros(1)).titles["front"].forms[0].key
    assert len(names) == 4
