"""A shot as a USD layer (Universal Scene Description, AOUSD), every frame of its motion a time sample."""

from __future__ import annotations

import re
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pxr import Gf, Sdf, Usd, UsdGeom, UsdLux, UsdShade, Vt

from ...document import Shot
from ...finish import COLOURS, TERMS
from ...form import PARTS
from ...scene import Baked, BakedBody, BakedLight, BodyStore, bake
from ...scene.viewing import camera_axes
from ..plate_points import NAME, plate_points
from .motion import still

Floats = NDArray[np.float64]

KINDS = ("usdc", "usda")
NEAR, FAR = 0.01, 1000.0
# Frames of a layer at most: what is longer has fewer samples, evenly.
MOST_SAMPLES = 3000
# Width of the sensor in metres, and what lengths of lenses are counted in: tenths of a scene unit.
SENSOR, TENTH = 0.036, 10.0
# Numbers of points that change, at most.
MOST_NUMBERS = 60_000_000


def usd_file(shot: Shot, kind: str = "usdc", bodies: BodyStore | None = None) -> bytes:
    """The layer as bytes, binary ("usdc") or as text ("usda"); metres, y up. What it cannot say (pictures on
    surfaces and around, bodies that change their shape) is listed in ``customLayerData.left_out``."""
    # A layer lives as long as its stage.
    made = _Layer(shot, bodies or BodyStore())
    layer = made.stage.GetRootLayer()
    if kind == "usda":
        text: str = layer.ExportToString()
        return text.encode()
    with tempfile.TemporaryDirectory(prefix="dreizack-") as folder:
        path = Path(folder) / "shot.usdc"
        layer.Export(str(path))
        return path.read_bytes()


class _Layer:
    def __init__(self, shot: Shot, bodies: BodyStore) -> None:
        self.bodies = bodies
        self.frames = np.unique(
            np.rint(np.linspace(0, shot.format.frames - 1, min(MOST_SAMPLES, shot.format.frames)))
        )
        self.baked: Baked = bake(shot, self.frames)
        self.shot = self.baked.shot
        self.left_out: set[str] = set()
        self.stage: Any = Usd.Stage.CreateInMemory()
        UsdGeom.SetStageUpAxis(self.stage, UsdGeom.Tokens.y)
        UsdGeom.SetStageMetersPerUnit(self.stage, 1.0)
        self.stage.SetTimeCodesPerSecond(shot.format.rate.per_second)
        self.stage.SetFramesPerSecond(shot.format.rate.per_second)
        self.stage.SetStartTimeCode(0)
        self.stage.SetEndTimeCode(shot.format.frames - 1)
        self.root = f"/{_identifier(self.shot.name or 'Shot')}"
        self.stage.SetDefaultPrim(UsdGeom.Xform.Define(self.stage, self.root).GetPrim())
        self._taken: set[str] = set()
        for name, body in self.baked.titles.items():
            self._thing(name, body)
        for name, light in self.baked.lights.items():
            self._light(name, light)
        self._surroundings()
        self._camera()
        self._points()
        layer = self.stage.GetRootLayer()
        layer.documentation = f"{self.shot.name}, made with Dreizack"
        layer.customLayerData = {"left_out": Vt.StringArray(sorted(self.left_out))}

    def _path(self, name: str, under: str = "") -> str:
        """A path that nothing has yet."""
        wished = path = f"{under or self.root}/{_identifier(name)}"
        number = 1
        while path in self._taken:
            number += 1
            path = f"{wished}_{number}"
        self._taken.add(path)
        return path

    def _over_time(self, attribute: Any, values: NDArray[Any], made: Callable[[Any], Any]) -> None:
        """Sets an attribute from values (frames, ...): samples, or one value where they stay."""
        flat = np.asarray(values, np.float64).reshape(len(values), -1)
        if len(values) == 1 or still(flat):
            attribute.Set(made(values[0]))
            return
        for frame, value in zip(self.frames.tolist(), values, strict=True):
            attribute.Set(made(value), frame)

    def _placed(self, thing: Any, matrices: Floats) -> None:
        """Matrices (frames, 3 or 4, 4) of a thing in what it is in; rows are vectors in USD."""
        full = np.zeros((len(matrices), 4, 4))
        full[:, :3], full[:, 3, 3] = matrices[:, :3], 1
        op = thing.AddTransformOp().GetAttr()
        self._over_time(op, np.swapaxes(full, 1, 2), lambda matrix: Gf.Matrix4d(matrix.tolist()))

    def _seen(self, thing: Any, there: NDArray[np.bool_]) -> None:
        if not there.all():
            tokens = (UsdGeom.Tokens.invisible, UsdGeom.Tokens.inherited)
            self._over_time(thing.CreateVisibilityAttr(), there.astype(float), lambda on: tokens[int(on)])

    def _thing(self, name: str, body: BakedBody) -> None:
        """A thing with its letters: each with a place of its own, their bodies shared."""
        thing = self.shot.bodied[name]
        if not thing.visibility.camera:
            return
        changing = self._changing(body)
        if len(body.forms) > 1 and changing is None:
            self.left_out.add(f"{thing.name}: how its body changes; it is as at the first frame")
        if any(picture is not None for picture in body.pictures):
            self.left_out.add(f"{thing.name}: pictures on its surfaces")
        path = self._path(thing.name)
        whole = UsdGeom.Xform.Define(self.stage, path)
        self._placed(whole, body.matrix)
        self._seen(whole, body.there)
        materials = [self._material(path, number, body) for number in range(body.terms.shape[1])]
        shared: dict[tuple[str, int], str] = {}
        for place, letter in enumerate(self.bodies.letters(body.forms[int(body.form[0])])):
            made = self.bodies.get(letter.body)
            if made is None or made.empty:
                continue
            character = getattr(thing, "words", "")[letter.source : letter.source + 1]
            at = self._path(character or f"part {letter.source}", path)
            prim = UsdGeom.Xform.Define(self.stage, at)
            poses = body.poses[:, letter.piece].copy()
            poses[:, :, 3] += poses[:, :, 2] * letter.shift
            self._placed(prim, poses)
            key = letter.body, letter.finish
            if key in shared and changing is None:
                mesh = self.stage.DefinePrim(f"{at}/body")
                mesh.GetReferences().AddInternalReference(shared[key])
                continue
            shared[key] = f"{at}/body"
            worn = body.surface_index[min(letter.finish, len(body.surface_index) - 1)]
            mesh = self._mesh(shared[key], made, worn, materials)
            if changing is not None:
                self._change(mesh, [bodies[place] for bodies in changing], body.form)

    def _changing(self, body: BakedBody) -> list[list[Any]] | None:
        """Bodies of each form of a thing that changes but keeps its points and triangles; else None."""
        if len(body.forms) < 2:
            return None
        found = []
        for form in body.forms:
            letters = [self.bodies.get(letter.body) for letter in self.bodies.letters(form)]
            found.append([one for one in letters if one is not None and not one.empty])
        alike = {tuple((len(one.position), len(one.triangles)) for one in bodies) for bodies in found}
        numbers = sum(one.position.size for bodies in found for one in bodies)
        return found if len(alike) == 1 and numbers <= MOST_NUMBERS else None

    def _change(self, mesh: Any, bodies: list[Any], form: NDArray[np.int64]) -> None:
        """Points and normals of a mesh at every frame."""
        for attribute, name in ((mesh.GetPointsAttr(), "position"), (mesh.GetNormalsAttr(), "normal")):
            held = [
                Vt.Vec3fArray.FromNumpy(np.ascontiguousarray(getattr(b, name), np.float32)) for b in bodies
            ]
            for frame, number in zip(self.frames.tolist(), form.tolist(), strict=True):
                attribute.Set(held[number], frame)
        reach = np.array([[b.position.min(axis=0), b.position.max(axis=0)] for b in bodies], np.float32)[form]
        self._over_time(
            mesh.GetExtentAttr(), reach, lambda ends: Vt.Vec3fArray.FromNumpy(ends.astype(np.float32))
        )

    def _mesh(self, path: str, body: Any, worn: NDArray[np.int64], materials: list[Any]) -> Any:
        mesh = UsdGeom.Mesh.Define(self.stage, path)
        normal = body.normal.astype(np.float64)
        normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-12)
        mesh.CreatePointsAttr(Vt.Vec3fArray.FromNumpy(np.ascontiguousarray(body.position, np.float32)))
        mesh.CreateFaceVertexCountsAttr(Vt.IntArray.FromNumpy(np.full(len(body.triangles), 3, np.int32)))
        mesh.CreateFaceVertexIndicesAttr(Vt.IntArray.FromNumpy(body.triangles.astype(np.int32).ravel()))
        mesh.CreateNormalsAttr(Vt.Vec3fArray.FromNumpy(normal.astype(np.float32)))
        mesh.SetNormalsInterpolation(UsdGeom.Tokens.vertex)
        mesh.CreateSubdivisionSchemeAttr(UsdGeom.Tokens.none)
        ends = np.stack([body.position.min(axis=0), body.position.max(axis=0)]).astype(np.float32)
        mesh.CreateExtentAttr(Vt.Vec3fArray.FromNumpy(ends))
        places = UsdGeom.PrimvarsAPI(mesh).CreatePrimvar(
            "st", Sdf.ValueTypeNames.TexCoord2fArray, UsdGeom.Tokens.vertex
        )
        places.Set(Vt.Vec2fArray.FromNumpy(np.ascontiguousarray(body.uv, np.float32)))
        UsdShade.MaterialBindingAPI.Apply(mesh.GetPrim()).Bind(materials[int(worn[0])])
        if len(set(worn.tolist())) == 1:
            return mesh
        starts = [0, *body.ends[:-1]]
        for number, (part, start, end) in enumerate(zip(PARTS, starts, body.ends, strict=True)):
            if end <= start:
                continue
            faces = Vt.IntArray.FromNumpy(np.arange(start, end, dtype=np.int32))
            subset = UsdGeom.Subset.CreateGeomSubset(
                mesh, part, UsdGeom.Tokens.face, faces, UsdShade.Tokens.materialBind
            )
            UsdShade.MaterialBindingAPI.Apply(subset.GetPrim()).Bind(materials[int(worn[number])])
        family = UsdShade.Tokens.materialBind
        UsdGeom.Subset.SetFamilyType(mesh, family, UsdGeom.Tokens.partition)
        return mesh

    def _points(self) -> None:
        """The points of a solved plate, a hand wide."""
        places = plate_points(self.shot)
        if places is None:
            return
        made = UsdGeom.Points.Define(self.stage, self._path(NAME))
        made.CreatePointsAttr(Vt.Vec3fArray.FromNumpy(places.astype(np.float32)))
        made.CreateWidthsAttr(Vt.FloatArray.FromNumpy(np.full(len(places), 0.02, np.float32)))
        ends = np.stack([places.min(axis=0) - 0.01, places.max(axis=0) + 0.01])
        made.CreateExtentAttr(Vt.Vec3fArray.FromNumpy(ends.astype(np.float32)))
        # One works with them, and does not render them.
        made.CreatePurposeAttr(UsdGeom.Tokens.guide)

    def _material(self, under: str, number: int, body: BakedBody) -> Any:
        """A surface over time as UsdPreviewSurface (its specification, 2.6)."""
        path = self._path(f"finish {number}", under)
        made = UsdShade.Material.Define(self.stage, path)
        shader = UsdShade.Shader.Define(self.stage, f"{path}/surface")
        shader.CreateIdAttr("UsdPreviewSurface")
        terms = {term: body.terms[:, number, k] for k, term in enumerate(TERMS)}
        colours = {name: body.colours[:, number, k] for k, name in enumerate(COLOURS)}
        # Glass lets through what the preview surface calls lack of opacity.
        opacity = terms["opacity"] * (1 - terms["transmission"])
        sent = colours["emission_colour"] * terms["emission"][:, None]
        types = Sdf.ValueTypeNames
        for name, kind, values in (
            ("diffuseColor", types.Color3f, np.clip(colours["base_colour"], 0, 1)),
            ("emissiveColor", types.Color3f, sent),
            ("metallic", types.Float, terms["metallic"]),
            ("roughness", types.Float, terms["roughness"]),
            ("clearcoat", types.Float, terms["clearcoat"]),
            ("clearcoatRoughness", types.Float, terms["clearcoat_roughness"]),
            ("ior", types.Float, terms["ior"]),
            ("opacity", types.Float, np.clip(opacity, 0, 1)),
        ):
            vector = kind == types.Color3f
            self._over_time(
                shader.CreateInput(name, kind),
                values,
                (lambda v: Gf.Vec3f(*v.tolist())) if vector else float,
            )
        shader.CreateOutput("surface", types.Token)
        made.CreateSurfaceOutput().ConnectToSource(shader.ConnectableAPI(), "surface")
        return made

    def _light(self, name: str, light: BakedLight) -> None:
        """A light of its own kind and size; radiance is intensity times colour there, too."""
        thing = self.shot.things.get(name)
        path = self._path(getattr(thing, "name", name))
        kinds = {
            "panel": UsdLux.RectLight,
            "disc": UsdLux.DiskLight,
            "sun": UsdLux.DistantLight,
            "ambient": UsdLux.DomeLight,
        }
        made = kinds.get(light.source, UsdLux.SphereLight).Define(self.stage, path)
        across, down = (np.linalg.norm(light.matrix[:, :3, k], axis=1) for k in (0, 1))
        level = light.radiance.max(axis=1)
        self._over_time(made.CreateIntensityAttr(), level, float)
        colour = np.where(level[:, None] > 0, light.radiance / np.maximum(level, 1e-12)[:, None], 1.0)
        self._over_time(made.CreateColorAttr(), colour, lambda v: Gf.Vec3f(*v.tolist()))
        self._seen(made, light.there)
        if light.source == "ambient":
            return
        if light.source == "panel":
            self._over_time(made.CreateWidthAttr(), 2 * across, float)
            self._over_time(made.CreateHeightAttr(), 2 * down, float)
        elif light.source == "sun":
            self._over_time(made.CreateAngleAttr(), light.size[:, 0], float)
        else:
            self._over_time(made.CreateRadiusAttr(), across, float)
        if light.cone is not None:
            # Counted from the axis; soft from the inner cone on.
            outer, inner = np.sort(np.degrees(np.arccos(np.clip(light.cone, -1, 1))), axis=1).T[::-1]
            shaping = UsdLux.ShapingAPI.Apply(made.GetPrim())
            self._over_time(shaping.CreateShapingConeAngleAttr(), outer, float)
            softness = 1 - inner / np.maximum(outer, 1e-9)
            self._over_time(shaping.CreateShapingConeSoftnessAttr(), softness, float)
        if light.slide:
            self.left_out.add(f"{name}: the picture it throws")
        axes = np.stack([light.matrix[:, :3, k] for k in range(3)], axis=-1)
        axes = axes / np.maximum(np.linalg.norm(axes, axis=1, keepdims=True), 1e-12)
        # Lights shine along -z there.
        turned = axes * np.array([-1.0, 1.0, -1.0])
        self._placed(made, np.concatenate([turned, light.position[:, :, None]], axis=2))

    def _surroundings(self) -> None:
        """What is all around as even light: its picture is a file of its own."""
        around = UsdLux.DomeLight.Define(self.stage, self._path("Surroundings"))
        self._over_time(around.CreateIntensityAttr(), self.baked.surroundings_strength, float)
        tint = self.baked.surroundings_tint
        self._over_time(around.CreateColorAttr(), tint, lambda v: Gf.Vec3f(*v.tolist()))
        self.left_out.add("the picture of the surroundings; they are one even light")

    def _camera(self) -> None:
        baked = self.baked
        made = UsdGeom.Camera.Define(self.stage, self._path("Camera"))
        axes = camera_axes(baked.camera_position, baked.camera_aim, baked.camera_roll)
        # Right, up and back as columns.
        turned = np.swapaxes(axes, 1, 2) * np.array([1.0, 1.0, -1.0])
        self._placed(made, np.concatenate([turned, baked.camera_position[:, :, None]], axis=2))
        height = SENSOR / self.shot.format.aspect
        focal = height / 2 / np.tan(np.radians(baked.camera_angle) / 2)
        made.CreateHorizontalApertureAttr(SENSOR * TENTH)
        made.CreateVerticalApertureAttr(height * TENTH)
        made.CreateClippingRangeAttr(Gf.Vec2f(NEAR, FAR))
        self._over_time(made.CreateFocalLengthAttr(), focal * TENTH, float)
        self._over_time(made.CreateFocusDistanceAttr(), baked.focus, float)
        radius = baked.lens_radius
        stops = np.where(radius > 0, focal / np.maximum(2 * radius, 1e-12), 0.0)
        self._over_time(made.CreateFStopAttr(), stops, float)
        self._over_time(made.CreateExposureAttr(), baked.exposure, float)


def _identifier(name: str) -> str:
    """A name as USD allows it: letters, digits, underscores, no digit first."""
    plain = re.sub(r"[^A-Za-z0-9_]+", "_", name).strip("_")
    if not plain:
        plain = "_".join(f"u{ord(sign):04x}" for sign in name[:4]) or "unnamed"
    return plain if not plain[0].isdigit() else f"_{plain}"
