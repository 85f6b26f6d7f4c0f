"""Finishes against what is known of them: measured metals, Fresnel's equations, layers that add light."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from dreizack.core.document import (
    Backdrop,
    Camera,
    Colour,
    Finish,
    Format,
    Setting,
    Shot,
    Surroundings,
    Vector,
)
from dreizack.core.finish import LAYERS, METALS, PRESETS, TERMS, layers, metal_colour
from dreizack.core.render import Quality, trace
from dreizack.core.render.transport.materials import surface
from dreizack.core.scene import bake, frame_state

from ..conftest import plain_title
from .test_render import stage_of

# Linear colours at normal incidence (Akenine-Möller et al., Real-Time Rendering, 4th ed., table 9.2).
PUBLISHED = {
    "aluminium": (0.913, 0.922, 0.924),
    "copper": (0.955, 0.638, 0.538),
    "gold": (1.0, 0.782, 0.344),
    "silver": (0.972, 0.960, 0.915),
}


def lab(linear: tuple[float, float, float]) -> np.ndarray:
    x = np.array(linear)
    codes = np.where(x <= 0.0031308, 12.92 * x, 1.055 * x ** (1 / 2.4) - 0.055)
    return cv2.cvtColor(codes.astype(np.float32)[None, None], cv2.COLOR_RGB2LAB)[0, 0]


@pytest.mark.parametrize("name", sorted(PUBLISHED))
def test_measured_metals_have_their_published_colour(name: str) -> None:
    assert np.linalg.norm(lab(metal_colour(name)) - lab(PUBLISHED[name])) < 1.5


def test_every_metal_and_preset_is_a_sensible_surface() -> None:
    for name in METALS:
        assert all(0.15 < channel <= 1 for channel in metal_colour(name)), name
    assert len(PRESETS) >= 30
    for finish in PRESETS.values():
        Finish.model_validate(finish.model_dump())


def test_layers_are_those_a_finish_has_at_any_frame() -> None:
    terms = np.zeros((4, 2, len(TERMS)))
    terms[..., TERMS.index("opacity")] = 1
    assert layers(terms) == ()
    terms[3, 1, TERMS.index("sheen")] = 0.1
    assert layers(terms) == ("sheen",)
    assert set(surface(terms[0, 0], (), False)) == {"metallic.value", "roughness.value", "eta"}
    assert {"sheen.value", "clearcoat.value", "anisotropic.value"} <= set(surface(terms[0, 0], LAYERS, False))
    # With a relief, both say how rough and how brushed the surface is.
    assert {
        "roughness.roughness",
        "roughness.anisotropy",
        "anisotropic.roughness",
        "clearcoat_gloss.gloss",
    } <= set(surface(terms[0, 0], LAYERS, True))


def facing(finish: Finish, monkeypatch: pytest.MonkeyPatch) -> float:
    """What a flat card with this finish sends back, seen straight on, in surroundings that are 1
    everywhere."""
    monkeypatch.setattr(
        "dreizack.core.render.staging.stage.around_picture", lambda _: np.ones((256, 512, 3), np.float32)
    )
    title = plain_title("I")
    title.setting = Setting(typeface="archivo-black", size=4, align="centre")
    title.finish = finish
    title.place.position = Vector(x=0, y=-2, z=-0.1)
    shot = Shot(
        format=Format(width=160, height=90, frames=1),
        things={"title": title},
        camera=Camera(position=Vector(x=0, y=0, z=8), aim=Vector(x=0, y=0, z=0), focal_length=200),
        surroundings=Surroundings(studio="overcast", strength=0),
        backdrop=Backdrop(colour=Colour(r=0, g=0, b=0)),
    )
    return float(trace(stage_of(shot), 160, 90, Quality(256, "high")).rgba[40:50, 75:85, :3].mean())


BLACK = Colour(r=0, g=0, b=0)


@pytest.mark.parametrize("ior", [1.33, 1.5, 2.0, 2.4])
def test_black_glass_mirrors_what_fresnel_says(ior: float, monkeypatch: pytest.MonkeyPatch) -> None:
    truth = ((ior - 1) / (ior + 1)) ** 2
    assert facing(
        Finish(base_colour=BLACK, metallic=0, roughness=0.05, ior=ior), monkeypatch
    ) == pytest.approx(truth, rel=0.03)


def test_a_clearcoat_mirrors_on_its_own(monkeypatch: pytest.MonkeyPatch) -> None:
    bare = Finish(base_colour=BLACK, metallic=0, roughness=0.6, ior=1.0)
    coated = bare.model_copy(update={"clearcoat": 1.0, "clearcoat_roughness": 0.05})
    # A whole layer of index 1.5 mirrors 0.04; the renderer's coat, with its long tail, a little less.
    assert facing(bare, monkeypatch) < 0.002
    assert facing(coated, monkeypatch) == pytest.approx(0.04, rel=0.2)


def test_keyed_layers_come_and_go_without_a_new_scene(shot: Shot) -> None:
    shot.things["title"].finish = Finish(
        base_colour=Colour(r=0.1, g=0.1, b=0.1), metallic=0, roughness=0.5, sheen=0.8
    )  # type: ignore[union-attr]
    stage = stage_of(shot)
    scene = stage.scene
    shot.things["title"].finish.sheen = 0.4  # type: ignore[union-attr]
    stage.show(frame_state(shot, bake(shot, np.array([0.0])), 0))
    assert stage.scene is scene
    shot.things["title"].finish.sheen = 0.0  # type: ignore[union-attr]
    stage.show(frame_state(shot, bake(shot, np.array([0.0])), 0))
    assert stage.scene is not scene
