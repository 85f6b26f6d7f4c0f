"""A shot as GLB (glTF 2.0, ISO/IEC 12113:2022), every frame of its motion a key."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...colour import LUMINANCE
from ...document import Shot
from ...form import PARTS
from ...scene import Baked, BakedBody, BakedLight, BodyStore, bake
from ...scene.viewing import camera_axes
from ..plate_points import NAME, plate_points
from .buffers import INDICES, VERTICES, Buffers
from .materials import material
from .motion import Course, course_of, still

Floats = NDArray[np.float64]

LIGHTS = "KHR_lights_punctual"
# Of primitives that are points alone (glTF 2.0, 3.7.2.1).
POINTS = 0
# What is not there at a frame is so small.
GONE = 1e-6
NEAR, FAR = 0.01, 1000.0
# Frames of a scene at most: what is longer has fewer keys, evenly.
MOST_KEYS = 3000


def scene_file(shot: Shot, bodies: BodyStore | None = None) -> bytes:
    """The file; metres, y up, as glTF has it. What it cannot say (pictures on surfaces, panels of light,
    bodies that change their shape, lenses that zoom) is listed in ``asset.extras.left_out``."""
    return _Scene(shot, bodies or BodyStore()).packed()


class _Scene:
    def __init__(self, shot: Shot, bodies: BodyStore) -> None:
        self.buffers, self.bodies = Buffers(), bodies
        frames = np.unique(
            np.rint(np.linspace(0, shot.format.frames - 1, min(MOST_KEYS, shot.format.frames)))
        )
        self.baked: Baked = bake(shot, frames)
        self.shot = self.baked.shot
        self.times = frames / shot.format.rate.per_second
        self.nodes: list[dict[str, Any]] = []
        self.meshes: list[dict[str, Any]] = []
        self.materials: list[dict[str, Any]] = []
        self.lights: list[dict[str, Any]] = []
        self.channels: list[dict[str, Any]] = []
        self.samplers: list[dict[str, Any]] = []
        self.used: set[str] = set()
        self.left_out: set[str] = set()
        self.roots: list[int] = []
        for name, body in self.baked.titles.items():
            self.roots += self._thing(name, body)
        for name, light in self.baked.lights.items():
            self.roots += self._light(name, light)
        self.roots.append(self._camera())
        self.roots += self._points()

    def packed(self) -> bytes:
        tree: dict[str, Any] = {
            "asset": {
                "version": "2.0",
                "generator": "Dreizack",
                "extras": {"shot": self.shot.name, "left_out": sorted(self.left_out)},
            },
            "scene": 0,
            "scenes": [{"name": self.shot.name, "nodes": self.roots}],
            "nodes": self.nodes,
            "cameras": [self.lens],
        }
        for key, found in (("meshes", self.meshes), ("materials", self.materials)):
            if found:
                tree[key] = found
        if self.channels:
            tree["animations"] = [
                {"name": self.shot.name, "channels": self.channels, "samplers": self.samplers}
            ]
        if self.lights:
            tree["extensions"] = {LIGHTS: {"lights": self.lights}}
            self.used.add(LIGHTS)
        if self.used:
            tree["extensionsUsed"] = sorted(self.used)
        return self.buffers.packed(tree)

    def _node(self, node: dict[str, Any], course: Course | None = None, there: Any = None) -> int:
        """A node that goes its course; where that stays, it only has its place."""
        number = len(self.nodes)
        self.nodes.append(node)
        if course is None:
            return number
        scale = course.scale
        if there is not None and not there.all():
            scale = np.where(there[:, None], scale, GONE)
        for path, values in (
            ("translation", course.place),
            ("rotation", course.rotation),
            ("scale", scale),
        ):
            node[path] = values[0].astype(np.float32).tolist()
            if still(values):
                continue
            steps = path == "scale" and there is not None and not there.all()
            self.channels.append({"sampler": len(self.samplers), "target": {"node": number, "path": path}})
            self.samplers.append(
                {
                    "input": self.buffers.add(self.times, bounds=True),
                    "output": self.buffers.add(values),
                    "interpolation": "STEP" if steps else "LINEAR",
                }
            )
        return number

    def _thing(self, name: str, body: BakedBody) -> list[int]:
        """A thing with its letters: each a node of its own, so that it can be moved on."""
        thing = self.shot.bodied[name]
        if len(body.forms) > 1:
            self.left_out.add(f"{thing.name}: how its body changes; it is as at the first frame")
        if any(picture is not None for picture in body.pictures):
            self.left_out.add(f"{thing.name}: pictures on its surfaces")
        if not thing.visibility.camera:
            return []
        form = body.forms[int(body.form[0])]
        first = len(self.materials)
        for number in range(body.terms.shape[1]):
            made, used = material(f"{thing.name} {number}", body.colours[0, number], body.terms[0, number])
            self.materials.append(made)
            self.used |= used
        course = course_of(body.matrix)
        poses = np.broadcast_to(body.poses, (len(self.times), *body.poses.shape[1:]))
        children = []
        for letter in self.bodies.letters(form):
            mesh = self._mesh(letter.body, body, letter.finish, first)
            if mesh is None:
                continue
            own = poses[:, letter.piece].copy()
            own[:, :, 3] += own[:, :, 2] * letter.shift
            goes = course_of(own)
            if goes.sheared:
                self.left_out.add(f"{thing.name}: how its letters lean")
            label = _label(thing, letter.source)
            children.append(self._node({"name": f"{thing.name} {label}".strip(), "mesh": mesh}, goes))
        if not children:
            return []
        return [self._node({"name": thing.name, "children": children}, course, body.there)]

    def _mesh(self, name: str, body: BakedBody, finish: int, first: int) -> int | None:
        made = self.bodies.get(name)
        if made is None or made.empty:
            return None
        primitives = []
        worn = body.surface_index[min(finish, len(body.surface_index) - 1)]
        for number, part in enumerate(PARTS):
            if not len(made.part(part)):
                continue
            used, corners = np.unique(made.part(part), return_inverse=True)
            normal = made.normal[used].astype(np.float64)
            normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-12)
            # What has no direction at all points at us.
            normal[np.abs(normal).sum(axis=1) < 0.5] = (0, 0, 1)
            primitives.append(
                {
                    "attributes": {
                        "POSITION": self.buffers.add(made.position[used], VERTICES, bounds=True),
                        "NORMAL": self.buffers.add(normal, VERTICES),
                        # Pictures begin at the top in glTF.
                        "TEXCOORD_0": self.buffers.add(made.uv[used] * [1, -1] + [0, 1], VERTICES),
                    },
                    "indices": self.buffers.add(corners.reshape(-1), INDICES),
                    "material": first + int(worn[number]),
                }
            )
        mesh = {"primitives": primitives}
        if mesh in self.meshes:
            return self.meshes.index(mesh)
        self.meshes.append(mesh)
        return len(self.meshes) - 1

    def _light(self, name: str, light: BakedLight) -> list[int]:
        """A light as a point, a spot or a sun, as strong as the whole of it is from afar."""
        if light.source == "ambient" or not light.there.any():
            self.left_out.add("ambient light" if light.source == "ambient" else "")
            self.left_out.discard("")
            return []
        matrix = light.matrix
        across, down = (np.linalg.norm(matrix[:, :3, k], axis=1) for k in (0, 1))
        radiance = light.radiance
        if not (still(radiance) and still(np.stack([across, down], axis=1))):
            self.left_out.add(f"{name}: how its intensity changes")
        level = float(radiance[0] @ LUMINANCE)
        colour = radiance[0] / max(float(radiance[0].max()), 1e-12)
        area = float(across[0] * down[0]) * (4 if light.source == "panel" else np.pi)
        made: dict[str, Any] = {"name": name, "color": np.clip(colour, 0, 1).tolist()}
        if light.source == "sun":
            half = np.tan(np.radians(float(light.size[0, 0]) / 2))
            made |= {"type": "directional", "intensity": level * np.pi * half**2}
        elif light.source == "spot" and light.cone is not None:
            outer, inner = np.sort(np.arccos(np.clip(light.cone[0], -1, 1)))[::-1]
            outer = min(float(outer), np.pi / 2)
            inner = max(0.0, min(float(inner), outer - 1e-4))
            cone = {"outerConeAngle": outer, "innerConeAngle": inner}
            made |= {"type": "spot", "intensity": level * area, "spot": cone}
        else:
            made |= {"type": "point", "intensity": level * area}
            if light.source in ("panel", "disc"):
                self.left_out.add(f"{name}: the size of its {light.source}")
        self.lights.append(made)
        axes = np.stack([matrix[:, :3, k] for k in range(3)], axis=-1)
        axes = axes / np.maximum(np.linalg.norm(axes, axis=1, keepdims=True), 1e-12)
        # Lights shine along -z there.
        turned = axes * np.array([-1.0, 1.0, -1.0])
        placed = np.concatenate([turned, light.position[:, :, None]], axis=2)
        node = {"name": name, "extensions": {LIGHTS: {"light": len(self.lights) - 1}}}
        return [self._node(node, course_of(placed), light.there)]

    def _points(self) -> list[int]:
        """The points of a solved plate."""
        places = plate_points(self.shot)
        if places is None:
            return []
        held = self.buffers.add(places, VERTICES, bounds=True)
        self.meshes.append({"primitives": [{"attributes": {"POSITION": held}, "mode": POINTS}]})
        return [self._node({"name": NAME, "mesh": len(self.meshes) - 1})]

    def _camera(self) -> int:
        baked = self.baked
        axes = camera_axes(baked.camera_position, baked.camera_aim, baked.camera_roll)
        if not still(baked.camera_angle[:, None]):
            self.left_out.add("how the lens zooms; it is as at the first frame")
        self.lens = {
            "type": "perspective",
            "perspective": {
                "yfov": float(np.radians(baked.camera_angle[0])),
                "aspectRatio": self.shot.format.aspect,
                "znear": NEAR,
                "zfar": FAR,
            },
        }
        # Right, up and back as columns.
        turned = np.swapaxes(axes, 1, 2) * np.array([1.0, 1.0, -1.0])
        placed = np.concatenate([turned, baked.camera_position[:, :, None]], axis=2)
        return self._node({"name": "Camera", "camera": 0}, course_of(placed))


def _label(thing: Any, source: int) -> str:
    """The character a letter stands for."""
    words: str = getattr(thing, "words", "")
    return words[source : source + 1] if words else str(source)
