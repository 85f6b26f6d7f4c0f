"""A shot as a USD layer: valid by the standard's own validators, and everything where it is."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from pxr import Usd, UsdGeom, UsdLux, UsdShade, UsdValidation

from dreizack.core.document import Channel, Key, LetterSet, Light, Shot, Span, Strand, Surface, Timing
from dreizack.core.exchange.scene.usd import usd_file
from dreizack.core.library import shelve
from dreizack.core.scene import BodyStore, bake, body_points
from dreizack.demo import bring_demo_files, demo_shots


def opened(shot: Shot, folder: Path, kind: str = "usdc") -> Any:
    path = folder / f"shot.{kind}"
    path.write_bytes(usd_file(shot, kind))
    return Usd.Stage.Open(str(path))


def faults(stage: Any) -> list[str]:
    known = UsdValidation.ValidationRegistry().GetOrLoadAllValidators()
    return [one.GetMessage() for one in UsdValidation.ValidationContext(known).Validate(stage)]


def test_the_validators_find_nothing_in_any_shot_of_the_demo(tmp_path: Path) -> None:
    bring_demo_files(tmp_path)
    shelve(tmp_path)
    for name, shot in demo_shots().items():
        shot.format.frames = min(shot.format.frames, 3)
        shot.channels = {at: c for at, c in shot.channels.items() if c.keys[0].frame < 3}
        (tmp_path / name).mkdir()
        assert faults(opened(shot, tmp_path / name)) == [], name


def test_the_validators_do_find_faults(tmp_path: Path) -> None:
    stage = Usd.Stage.CreateInMemory()
    mesh = UsdGeom.Mesh.Define(stage, "/mesh")
    mesh.CreateFaceVertexCountsAttr([3])
    mesh.CreateFaceVertexIndicesAttr([0, 1, 7])
    mesh.CreatePointsAttr([(0, 0, 0), (1, 0, 0), (0, 1, 0)])
    assert faults(stage)


def points_at(stage: Any, frame: int) -> np.ndarray:
    found = []
    for prim in stage.Traverse():
        if prim.IsA(UsdGeom.Mesh):
            points = np.array(UsdGeom.Mesh(prim).GetPointsAttr().Get(frame), np.float64)
            matrix = np.array(UsdGeom.Xformable(prim).ComputeLocalToWorldTransform(frame))
            found.append(np.column_stack([points, np.ones(len(points))]) @ matrix[:, :3])
    return np.concatenate(found)


@pytest.fixture
def moving(shot: Shot) -> Shot:
    shot.titles["title"].sets = [LetterSet(timing=Timing(order="reading", delay=1))]
    shot.channels |= {
        "/things/title/place/rotation/y": Channel(keys=[Key(frame=0, value=-40), Key(frame=11, value=30)]),
        # Letters that lean are said too.
        "/things/title/sets/0/shear": Channel(keys=[Key(frame=0, value=20), Key(frame=8, value=0)]),
        "/camera/focal_length": Channel(keys=[Key(frame=0, value=35), Key(frame=11, value=70)]),
        "/things/key/intensity": Channel(keys=[Key(frame=0, value=-2), Key(frame=11, value=1)]),
    }
    return shot


@pytest.mark.parametrize("kind", ["usdc", "usda"])
def test_letters_are_where_they_are(moving: Shot, tmp_path: Path, kind: str) -> None:
    stage, baked, bodies = opened(moving, tmp_path, kind), bake(moving), BodyStore()
    body = baked.titles["title"]
    for frame in (0, 4, 11):
        truth, _ = body_points(body.forms[0], body.matrix[frame], body.poses_at(frame), bodies)
        np.testing.assert_allclose(points_at(stage, frame), truth, atol=2e-5)
    assert UsdGeom.GetStageMetersPerUnit(stage) == 1 and UsdGeom.GetStageUpAxis(stage) == "Y"
    assert stage.GetTimeCodesPerSecond() == moving.format.rate.per_second


def test_the_camera_zooms_and_sees_what_ours_sees(moving: Shot, tmp_path: Path) -> None:
    stage, baked = opened(moving, tmp_path), bake(moving)
    camera = next(UsdGeom.Camera(p) for p in stage.Traverse() if p.IsA(UsdGeom.Camera))
    for frame in (0, 6, 11):
        seen = camera.GetCamera(frame)
        frustum = seen.frustum
        assert seen.GetFieldOfView(seen.FOVVertical) == pytest.approx(baked.camera_angle[frame], abs=1e-3)
        assert frustum.ComputeAspectRatio() == pytest.approx(moving.format.aspect, rel=1e-5)
        np.testing.assert_allclose(np.array(frustum.position), baked.camera_position[frame], atol=1e-5)
        ahead = baked.camera_aim[frame] - baked.camera_position[frame]
        np.testing.assert_allclose(
            np.array(frustum.ComputeViewDirection()), ahead / np.linalg.norm(ahead), atol=1e-5
        )


def test_lights_keep_their_kind_size_radiance_and_change(moving: Shot, tmp_path: Path) -> None:
    moving.things["lamp"] = Light(source="spot", cone=50, penumbra=0.2)
    stage, baked = opened(moving, tmp_path), bake(moving)
    found = {prim.GetName(): prim for prim in stage.Traverse() if prim.HasAPI(UsdLux.LightAPI)}
    key, light = UsdLux.RectLight(found[moving.things["key"].name.replace(" ", "_")]), baked.lights["key"]
    for frame in (0, 11):
        sent = np.array(key.GetColorAttr().Get(frame)) * key.GetIntensityAttr().Get(frame)
        np.testing.assert_allclose(sent, light.radiance[frame], rtol=1e-5)
    assert key.GetWidthAttr().Get() == pytest.approx(2 * np.linalg.norm(light.matrix[0, :3, 0]), rel=1e-5)
    spot = next(prim for prim in found.values() if prim.HasAPI(UsdLux.ShapingAPI))
    assert UsdLux.ShapingAPI(spot).GetShapingConeAngleAttr().Get() == pytest.approx(25, abs=6)


def test_every_part_wears_its_finish(moving: Shot, tmp_path: Path) -> None:
    title = moving.titles["title"]
    title.finish.parts["wall"] = Surface()
    title.finish.parts["wall"].base_colour.r = 0.123
    stage = opened(moving, tmp_path)
    colours = set()
    for prim in stage.Traverse():
        if prim.IsA(UsdGeom.Subset) and prim.GetName() == "wall":
            material, _ = UsdShade.MaterialBindingAPI(prim).ComputeBoundMaterial()
            surface, *_ = material.ComputeSurfaceSource()
            colours.add(round(surface.GetInput("diffuseColor").Get()[0], 4))
    assert colours == {0.123}


def test_what_is_not_there_is_unseen_and_what_changes_its_shape_does(shot: Shot, tmp_path: Path) -> None:
    shot.titles["title"].span = Span(whole=False, start=3, end=8)
    shot.things["strand"] = Strand(rule="ring", wander=0.2, flow=1.0)
    stage, baked, bodies = opened(shot, tmp_path), bake(shot), BodyStore()
    title = next(prim for prim in stage.Traverse() if prim.GetName() == "Title")
    seen = [UsdGeom.Imageable(title).ComputeVisibility(frame) == "inherited" for frame in range(12)]
    assert seen == [3 <= frame < 8 for frame in range(12)]
    body = baked.titles["strand"]
    mesh = next(p for p in stage.Traverse() if p.IsA(UsdGeom.Mesh) and "Strand" in str(p.GetPath()))
    for frame in (1, 9):
        form = body.forms[int(body.form[frame])]
        truth, _ = body_points(form, np.eye(4), body.poses_at(frame), bodies)
        np.testing.assert_allclose(np.array(UsdGeom.Mesh(mesh).GetPointsAttr().Get(frame)), truth, atol=1e-5)


def test_what_cannot_be_said_is_listed_and_names_are_allowed_ones(shot: Shot, tmp_path: Path) -> None:
    shot.titles["title"].name = "1. Ebbe & Flut"
    shot.channels["/things/title/setting/size"] = Channel(
        keys=[Key(frame=0, value=0.1), Key(frame=9, value=0.3)]
    )
    stage = opened(shot, tmp_path)
    assert faults(stage) == []
    left = list(stage.GetRootLayer().customLayerData["left_out"])
    assert any("surroundings" in one for one in left)
