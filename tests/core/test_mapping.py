"""Pictures on letters: where they lie, and that they are seen there."""

from __future__ import annotations

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
    Stop,
    SurfacePicture,
    Surroundings,
    Title,
    Vector,
)
from dreizack.core.finish import surface_picture
from dreizack.core.scene import BodyStore, bake, uv_maps

from .test_render import traced

BLACK, WHITE = Colour(r=0, g=0, b=0), Colour(r=1, g=1, b=1)
RAMP = [Stop(at=0, colour=BLACK), Stop(at=1, colour=WHITE)]


def lying(
    space: str, words: str = "EBB\nTIDE", aspect: float = 1.0, **picture: object
) -> tuple[list[np.ndarray], list]:  # type: ignore[type-arg]
    """Picture coordinates of the points of each letter, and the letters."""
    title = Title(words=words, setting=Setting(typeface="anton", size=0.4))
    baked = bake(Shot(things={"title": title}), np.zeros(1)).titles["title"]
    store = BodyStore()
    letters = store.letters(baked.forms[0])
    bodies = [store.get(letter.body) for letter in letters]
    chosen = SurfacePicture(**{"fill": "picture", "space": space, **picture})  # type: ignore[arg-type]
    texture_transform = np.array([chosen.size, chosen.shift_x, chosen.shift_y, chosen.angle])
    found = uv_maps(chosen, texture_transform, aspect, letters, bodies, baked.matrix[0], baked.poses_at(0))
    return [
        b.position @ one.plane[:, :3].T + one.plane[:, 3]
        for b, one in zip(bodies, found, strict=True)
        if b is not None
    ], letters


@pytest.mark.parametrize("space", ["letter", "word", "line", "title"])
@pytest.mark.parametrize("aspect", [0.5, 1.0, 1.78])
def test_a_picture_covers_its_space_and_touches_two_of_its_sides(space: str, aspect: float) -> None:
    points, letters = lying(space, aspect=aspect)
    groups: dict[int, list[np.ndarray]] = {}
    for number, (letter, uv) in enumerate(zip(letters, points, strict=True)):
        groups.setdefault(
            {"letter": number, "word": letter.word, "line": letter.line, "title": 0}[space], []
        ).append(uv)
    for pieces in groups.values():
        uv = np.concatenate(pieces)
        low, high = uv.min(axis=0), uv.max(axis=0)
        assert low.min() > -1e-5 and high.max() < 1 + 1e-5
        np.testing.assert_allclose(low + high, 1, atol=1e-5)
        assert (high - low).max() == pytest.approx(1, abs=1e-5)


def test_size_shift_and_angle_do_what_they_say() -> None:
    plain, _ = lying("title")
    half, _ = lying("title", size=2.0)
    moved, _ = lying("title", shift_x=0.25, shift_y=-0.5)
    turned, _ = lying("title", angle=90.0)
    for a, b, c, d in zip(plain, half, moved, turned, strict=True):
        np.testing.assert_allclose(b - 0.5, (a - 0.5) / 2, atol=1e-6)
        np.testing.assert_allclose(c - a, np.tile([0.25, -0.5], (len(a), 1)), atol=1e-6)
        np.testing.assert_allclose(d - 0.5, np.column_stack([a[:, 1] - 0.5, 0.5 - a[:, 0]]), atol=1e-5)


def test_walls_run_without_stretch() -> None:
    title = Title(words="O", setting=Setting(typeface="anton", size=0.4))
    baked = bake(Shot(things={"title": title}), np.zeros(1)).titles["title"]
    store = BodyStore()
    letters = store.letters(baked.forms[0])
    bodies = [store.get(letter.body) for letter in letters]
    (one,) = uv_maps(
        SurfacePicture(fill="picture", space="letter"),
        np.array([1.0, 0, 0, 0]),
        1.0,
        letters,
        bodies,
        np.eye(4),
        baked.poses_at(0),
    )
    body = bodies[0]
    assert body is not None and one.running
    corners = body.part("wall")
    edges = np.concatenate([corners[:, [0, 1]], corners[:, [1, 2]]])
    metres = np.linalg.norm(body.position[edges[:, 0]] - body.position[edges[:, 1]], axis=1)
    uv = body.uv @ one.run[:, :2].T
    pictured = np.linalg.norm(uv[edges[:, 0]] - uv[edges[:, 1]], axis=1) * one.span
    np.testing.assert_allclose(pictured, metres, rtol=0.02, atol=1e-4)


def test_gradients_mix_in_linear_light_with_any_number_of_stops() -> None:
    stops = [Stop(at=0.5, colour=Colour(r=1, g=0, b=0)), *RAMP]
    row = surface_picture(SurfacePicture(fill="gradient", stops=stops))[0]
    np.testing.assert_allclose(row[128], [0.5, 0, 0], atol=0.01)
    np.testing.assert_allclose(row[384], [1, 0.5, 0.5], atol=0.01)
    radial = surface_picture(SurfacePicture(fill="gradient", gradient="radial", stops=RAMP))
    assert radial[256, 256, 0] < 0.01 and radial[0, 256, 0] == pytest.approx(1, abs=0.01)


def seen(picture: SurfacePicture) -> np.ndarray:
    title = Title(
        words="I",
        setting=Setting(typeface="archivo-black", size=2.4, align="centre"),
        finish=Finish(base_colour=BLACK, metallic=0, picture=picture),
    )
    title.place.position = Vector(x=0, y=-1.2, z=0)
    shot = Shot(
        format=Format(width=160, height=90, frames=1),
        things={"title": title, "all": Light(source="ambient")},
        surroundings=Surroundings(strength=-16),
        camera=Camera(position=Vector(x=0, y=0, z=6), aim=Vector(x=0, y=0, z=0), focal_length=60),
    )
    return traced(shot, 32)


def test_a_gradient_is_seen_on_the_letter() -> None:
    across = seen(SurfacePicture(fill="gradient", stops=RAMP))[40:50, :, 1].mean(axis=0)
    inside = np.flatnonzero(across > 0.02)
    assert np.all(np.diff(across[inside][2:-3]) > -0.01) and across[inside].max() > 0.7
    up = seen(SurfacePicture(fill="gradient", stops=RAMP, angle=90.0))[:, 76:84, 1].mean(axis=1)
    inside = np.flatnonzero(up > 0.02)
    assert np.all(np.diff(up[inside][3:-3]) < 0.01) and up[inside].max() > 0.7


def test_pictures_set_emission_roughness_and_opacity() -> None:
    glow = seen(
        SurfacePicture(fill="gradient", channel="emission", stops=[Stop(at=0, colour=Colour(r=0, g=0, b=1))])
    )
    assert glow[45, 80, 2] == pytest.approx(1.0, abs=0.15) and glow[45, 80, 0] < 0.2
    clear = seen(SurfacePicture(fill="gradient", channel="opacity", stops=[Stop(at=0, colour=BLACK)]))
    assert clear[..., 3].max() < 0.02


def test_a_picture_that_is_nowhere_leaves_grey() -> None:
    assert surface_picture(SurfacePicture(fill="picture", file="gone.png")).mean() == pytest.approx(0.18)
