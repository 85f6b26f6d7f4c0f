"""The renderer's scene, kept between frames and changed only where the frame state changed."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..finish import TERMS, fill_picture
from ..light import panorama
from ..scene import BodyStore, FrameState, TitleState
from .engine import engine
from .meshes import PartMesh, moved, title_parts
from .surface import surface


class Stage:
    """Holds one Mitsuba scene that follows frame states.

    As long as the same forms, lights and studio are on stage, a new state only moves vertices and
    sets values; otherwise the scene is made anew.
    """

    def __init__(self, bodies: BodyStore) -> None:
        self.bodies = bodies
        self.scene: Any = None
        self.sensors: dict[tuple[int, int], Any] = {}
        self.state: FrameState | None = None
        self._cast: Any = None
        self._parts: dict[str, dict[tuple[int, str], PartMesh]] = {}
        self._placed: dict[str, Any] = {}

    def show(self, state: FrameState) -> None:
        """Make the scene what ``state`` says."""
        cast = (
            state.studio, tuple((n, t.form.key, repr(t.pictured), t.layers) for n, t in state.titles.items()), tuple(state.lights),
        )
        if cast != self._cast:
            self._build(state)
            self._cast = cast
            # The first update of a new scene leaves emitters with the sampling of their old shapes
            # (the picture comes out up to 2 % too bright); the second one sets them right.
            self._update(state)
        self._update(state)
        self.state = state

    def sensor(self, width: int, height: int, top: int, rows: int) -> Any:
        """The camera for a band of the picture: ``rows`` rows from row ``top`` on (they may overhang).

        The band is a film of its own with the principal point moved: unlike a crop, that is no
        constant of the compiled kernel, so all bands of a size share one.
        """
        mi = engine()
        key = (width, rows)
        if key not in self.sensors:
            if len(self.sensors) > 64:
                self.sensors.clear()
            self.sensors[key] = mi.load_dict({
                "type": "perspective", "fov": 40.0, "near_clip": 0.01, "far_clip": 10000.0,
                "sampler": {"type": "multijitter"},
                "film": {
                    "type": "hdrfilm", "width": width, "height": rows, "rfilter": {"type": "box"},
                    "pixel_format": "rgba", "component_format": "float32",
                },
            })
        assert self.state is not None
        params = mi.traverse(self.sensors[key])
        params["to_world"] = camera_transform(self.state)
        half = np.tan(np.radians(self.state.angle / 2)) * width / height
        params["x_fov"] = float(np.degrees(2 * np.arctan(half)))
        params["principal_point_offset_y"] = (top + rows / 2 - height / 2) / rows
        params.update()
        return self.sensors[key]

    def _build(self, state: FrameState) -> None:
        mi = engine()
        scene: dict[str, Any] = {"type": "scene", "surroundings": {
            "type": "envmap", "bitmap": mi.Bitmap(panorama(state.studio)), "scale": 1.0,
        }}
        self._parts = {name: title_parts(title, self.bodies) for name, title in state.titles.items()}
        self._placed = {}
        for name, parts in self._parts.items():
            for (finish, part), mesh in parts.items():
                at = f"{name}_{finish}_{part}"
                scene[at] = _mesh(at, mesh, state.titles[name])
        for name in state.lights:
            # Made one by one: objects keep the order they are given in, dictionaries come in any, and every
            # order samples the emitters differently.
            scene[f"{name}_panel"] = mi.load_dict({
                "type": "rectangle", "id": f"{name}_panel",
                "bsdf": {"type": "diffuse", "reflectance": {"type": "rgb", "value": 0.0}},
                "emitter": {"type": "area", "radiance": {"type": "rgb", "value": [1.0, 1.0, 1.0]}},
            })
        # Loaded in parallel, emitters come in any order, and every order is a kernel of its own to compile.
        self.scene = mi.load_dict(scene, parallel=False)

    def _update(self, state: FrameState) -> None:
        mi = engine()
        params = mi.traverse(self.scene)
        params["surroundings.scale"] = state.surroundings_strength
        params["surroundings.to_world"] = mi.ScalarTransform4f().rotate([0, 1, 0], state.surroundings_rotation)
        for name, title in state.titles.items():
            for (finish, part), mesh in self._parts[name].items():
                at = f"{name}_{finish}_{part}"
                placed = title.matrix.tobytes()
                if self._placed.get(at) != placed:
                    position, normal = moved(mesh, title.matrix)
                    params[f"{at}.vertex_positions"] = mi.Float(position.ravel())
                    params[f"{at}.vertex_normals"] = mi.Float(normal.ravel())
                    self._placed[at] = placed
                if title.pictured is None:
                    params[f"{at}.bsdf.base_color.value"] = mi.Color3f(*(float(c) for c in title.base_colour[finish]))
                for term, value in surface(title.terms[finish], title.layers).items():
                    params[f"{at}.bsdf.{term}"] = value
        for name, (matrix, radiance) in state.lights.items():
            params[f"{name}_panel.to_world"] = mi.ScalarTransform4f(matrix.tolist())
            params[f"{name}_panel.emitter.radiance.value"] = mi.Color3f(*(float(c) for c in radiance))
        params.update()


def camera_transform(state: FrameState) -> Any:
    """Camera-to-world for a camera that looks along +z with +y up (Mitsuba's convention)."""
    mi = engine()
    position, aim = state.camera_position, state.camera_aim
    forward = aim - position
    length = float(np.linalg.norm(forward))
    forward = forward / length if length > 1e-6 else np.array([0.0, 0.0, -1.0])
    steep = abs(float(forward[1])) > 0.9999
    side = np.cross(forward, [0.0, 0.0, -1.0] if steep else [0.0, 1.0, 0.0])
    side /= np.linalg.norm(side)
    above = np.cross(side, forward)
    roll = np.radians(state.camera_roll)
    up = above * np.cos(roll) + side * np.sin(roll)
    return mi.ScalarTransform4f().look_at(
        origin=position.tolist(), target=(position + forward).tolist(), up=up.tolist()
    )


def _mesh(name: str, mesh: PartMesh, title: TitleState) -> Any:
    mi = engine()
    properties = mi.Properties()
    base: dict[str, Any] = {"type": "rgb", "value": [0.5, 0.5, 0.5]}
    if title.pictured is not None:
        # The renderer counts rows from v = 0 on.
        base = {"type": "bitmap", "bitmap": mi.Bitmap(np.ascontiguousarray(fill_picture(*title.pictured)[::-1])), "raw": True, "wrap_mode": "clamp"}
    # Layers that are not named when it is made are left out of the kernel.
    terms = {term.removesuffix(".value"): 0.5 for term in surface(np.full(len(TERMS), 0.5), title.layers) if term != "eta"}
    properties["bsdf"] = mi.load_dict({"type": "principled", "base_color": base, "eta": 1.5, **terms})
    made = mi.Mesh(
        name, len(mesh.position), len(mesh.triangles), has_vertex_normals=True, has_vertex_texcoords=True,
        props=properties,
    )
    params = mi.traverse(made)
    params["vertex_positions"] = mi.Float(mesh.position.ravel())
    params["vertex_normals"] = mi.Float(mesh.normal.ravel())
    params["vertex_texcoords"] = mi.Float(mesh.uv.ravel())
    params["faces"] = mi.UInt32(mesh.triangles.ravel())
    params.update()
    return made
