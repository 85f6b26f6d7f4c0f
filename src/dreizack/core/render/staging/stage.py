"""The renderer's scene, kept between frames and changed only where the frame state changed."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np

from ...colour import luminance
from ...document import Strand, Swarm
from ...finish import MASK, fill_picture
from ...form import PARTS
from ...light import SHAPES, SurroundingsState, around_picture
from ...scene import (
    BodyState,
    BodyStore,
    FrameState,
    reveal_box,
    reveal_rows,
    shown_picture,
    travels,
)
from ..kernel.engine import arrays, engine
from ..transport.materials import addresses, diffuse_worth, emission, made, surface, texture
from ..transport.tables import SceneTables
from .letter_attributes import ATTRIBUTES, attribute_textures, attribute_values
from .meshes import PartMesh, body_parts, moved, picture_uv
from .scene_tables import scene_tables

# Things that keep their triangles while they change.
ORNAMENTS = (Strand, Swarm)


class Stage:
    """Holds one Mitsuba scene that follows frame states.

    As long as the same forms, lights and surroundings are on stage, a new state only moves vertices and
    sets values; otherwise the scene is made anew.
    """

    def __init__(self, bodies: BodyStore) -> None:
        self.bodies = bodies
        self.scene: Any = None
        self.state: FrameState | None = None
        self.tables: SceneTables | None = None
        self._cast: Any = None
        self.parts: dict[str, dict[tuple[int, str], PartMesh]] = {}
        self._placed: dict[str, Any] = {}
        self._lying: dict[str, Any] = {}
        self._showing: dict[str, tuple[object, ...]] = {}
        self._worn: dict[str, bytes] = {}
        # By thing, the form whose points are on stage.
        self._shaped: dict[str, str] = {}
        self._moment: Any = None
        self._around: Any = None
        self.gains: dict[str, float] = {}

    @property
    def moments(self) -> int:
        """How many moments the state on stage has while the shutter is open."""
        return max(1, len(self.state.during)) if self.state is not None else 1

    @property
    def part_names(self) -> list[str]:
        """Names of the meshes on stage, in the order of things, finishes and parts."""
        return [part_id(name, finish, part) for name, parts in self.parts.items() for finish, part in parts]

    def show(self, state: FrameState) -> None:
        """Make the scene what ``state`` says, at its first moment."""
        self.state = state
        self.at_moment(0)

    def at_moment(self, index: int) -> FrameState:
        """Make the scene what it is at a moment of the state on stage; that moment."""
        assert self.state is not None
        moment = self.state.during[index] if self.state.during else self.state
        if moment is not self._moment:
            self._put(moment)
            self._moment = moment
        return moment

    def only(self, gains: dict[str, float]) -> None:
        """Scale what lights send, by name ("surroundings" is one); those not named send what they do."""
        self.gains = gains
        if self._moment is not None:
            self.tables = scene_tables(self.scene, self._moment, self.parts, self.gains)

    def _put(self, state: FrameState) -> None:
        cast = (
            state.around.shape,
            tuple(
                (
                    n,
                    self._topology(n, t),
                    repr(t.pictured),
                    repr(t.pictures),
                    t.layers,
                    [kind != "none" for kind, _ in t.bumps],
                    t.surface_index.tobytes(),
                    t.looks is not None,
                    t.reveal is not None,
                )
                for n, t in state.titles.items()
            ),
            tuple((name, light.source) for name, light in state.lights.items()),
        )
        if cast != self._cast:
            self._build(state)
            self._cast = cast
            # The first update of a new scene leaves emitters with the sampling of their old shapes
            # (the picture comes out up to 2 % too bright); the second one sets them right.
            self._update(state)
        self._reshape(state)
        self._update(state)
        self.tables = scene_tables(self.scene, state, self.parts, self.gains)

    def _topology(self, name: str, title: BodyState) -> object:
        """What of a form cannot be changed on stage. Ornaments that run keep their points and triangles, and
        only points go elsewhere."""
        if not isinstance(title.form.thing, ORNAMENTS):
            return title.form.key
        body = self.bodies.get(self.bodies.letters(title.form)[0].body)
        return (title.form.thing.kind, len(body.position), len(body.triangles)) if body is not None else ""

    def _reshape(self, state: FrameState) -> None:
        """Take the shapes of ornaments as they are at this moment."""
        for name, title in state.titles.items():
            if self._shaped.get(name) != title.form.key:
                if name in self._shaped and isinstance(title.form.thing, ORNAMENTS):
                    self.parts[name] = body_parts(title, self.bodies)
                    for finish, part in self.parts[name]:
                        self._placed.pop(part_id(name, finish, part), None)
                self._shaped[name] = title.form.key

    def _build(self, state: FrameState) -> None:
        mi = engine()
        scene: dict[str, Any] = {
            "type": "scene",
            "surroundings": {
                # Strength and tint are among the gains of the scenery.
                "type": "envmap",
                "bitmap": mi.Bitmap(around_picture(_untinted(state))),
                "scale": 1.0,
            },
        }
        self._around = _untinted(state)
        self.parts = {name: body_parts(title, self.bodies) for name, title in state.titles.items()}
        self._placed = {}
        self._lying = {}
        self._showing = {}
        self._worn = {}
        self._shaped = {name: title.form.key for name, title in state.titles.items()}
        for name, parts in self.parts.items():
            uv = picture_uv(state.titles[name], self.bodies)
            for (finish, part), mesh in parts.items():
                at = part_id(name, finish, part)
                scene[at] = _mesh(
                    at,
                    mesh,
                    state.titles[name],
                    surface_index(state.titles[name], finish, part),
                    uv.get((finish, part), mesh.uv),
                    self.bodies,
                )
        for name, light in state.lights.items():
            if light.source == "ambient":
                continue
            # Made one by one: objects keep the order they are given in, dictionaries come in any, and every
            # order samples the emitters differently.
            scene[light_id(name)] = mi.load_dict(
                {
                    "type": SHAPES[light.source],
                    "id": light_id(name),
                    "bsdf": {"type": "diffuse", "reflectance": {"type": "rgb", "value": 0.0}},
                    "emitter": {"type": "area", "radiance": {"type": "rgb", "value": [1.0, 1.0, 1.0]}},
                }
            )
        # Loaded in parallel, emitters come in any order, and every order is a kernel of its own to compile.
        self.scene = mi.load_dict(scene, parallel=False)

    def _lay(self, name: str, title: BodyState, params: Any) -> None:
        """Lay pictures anew where they or what they lie on has moved."""
        if not any(title.pictures):
            return
        spaces = {picture.space for picture in title.pictures if picture is not None}
        key = (
            title.texture_transform.tobytes(),
            title.matrix.tobytes() if "room" in spaces else b"",
            title.poses.tobytes() if spaces - {"letter", "plate"} else b"",
        )
        if self._lying.setdefault(name, key) == key:
            return
        for (finish, part), uv in picture_uv(title, self.bodies).items():
            params[f"{part_id(name, finish, part)}.vertex_texcoords"] = engine().Float(uv.ravel())
        self._lying[name] = key

    def _wear(
        self, at: str, title: BodyState, number: int, mesh: PartMesh, channel: str, params: Any
    ) -> None:
        """Give triangles what their letters have of their own, where that has changed."""
        assert title.looks is not None
        worn = title.looks.tobytes() + title.terms[number].tobytes() + title.colours[number].tobytes()
        if self._worn.get(at) == worn:
            return
        for name, values in attribute_values(title, number, mesh, channel).items():
            if f"{at}.{ATTRIBUTES[name][0]}" in params:
                params[f"{at}.{ATTRIBUTES[name][0]}"] = engine().Float(values)
        self._worn[at] = worn

    def _update(self, state: FrameState) -> None:
        mi = engine()
        params = mi.traverse(self.scene)
        params["surroundings.to_world"] = (
            mi.ScalarTransform4f()
            .rotate([1, 0, 0], state.surroundings_tilt)
            .rotate([0, 1, 0], state.surroundings_rotation)
        )
        around = _untinted(state)
        if around != self._around:
            params["surroundings.data"] = _with_seam(
                params["surroundings.data"].shape, around_picture(around)
            )
            self._around = around
        for name, title in state.titles.items():
            self._lay(name, title, params)
            for (finish, part), mesh in self.parts[name].items():
                at = part_id(name, finish, part)
                self._place(at, title, mesh, params)
                self._dress(at, title, surface_index(title, finish, part), mesh, params)
        for name, light in state.lights.items():
            if light.source != "ambient":
                params[f"{light_id(name)}.to_world"] = _opaque(light.matrix)
                params[f"{light_id(name)}.emitter.radiance.value"] = mi.Color3f(
                    *(float(c) for c in light.radiance)
                )
        params.update()

    def _place(self, at: str, title: BodyState, mesh: PartMesh, params: Any) -> None:
        """Points of a part where they are now."""
        placed = title.matrix.tobytes() + title.poses.tobytes()
        if self._placed.get(at) != placed:
            mi = engine()
            position, normal = moved(mesh, title.matrix, title.poses)
            params[f"{at}.vertex_positions"] = mi.Float(position.ravel())
            params[f"{at}.vertex_normals"] = mi.Float(normal.ravel())
            self._placed[at] = placed

    def _dress(self, at: str, title: BodyState, number: int, mesh: PartMesh, params: Any) -> None:
        """The surface of a part as it is now."""
        mi = engine()
        layers, terms, colours = title.layers[number], title.terms[number], title.colours[number]
        in_relief = title.bumps[number][0] != "none"
        mask, base = addresses(layers)
        picture = title.pictures[number]
        channel = "base colour" if title.pictured is not None else picture.channel if picture else ""
        own = title.looks is not None
        if own:
            self._wear(at, title, number, mesh, channel, params)
        # Below what uncovers a thing lies what it would be without.
        under = ".base" if title.reveal is not None else ""
        self._uncover(at, title, params)
        showing = _showing(title, number)
        if showing != self._showing.setdefault(at, showing):
            slots = {
                "base colour": f"{base}base_color",
                "roughness": f"{base}roughness{'.picture' if in_relief else ''}",
                "opacity": f"{mask}opacity{under}",
                "emission": f"emitter.radiance{under}",
            }
            if own and channel in ATTRIBUTES:
                slots[channel] += ".picture"
            shown = np.ascontiguousarray(_shown(title, number, self.bodies)[::-1])
            params[f"{at}.{slots[channel]}.data"] = mi.TensorXf(shown)
            self._showing[at] = showing
        if channel != "base colour" and not own:
            params[f"{at}.{base}base_color.value"] = mi.Color3f(*(float(c) for c in colours[0]))
        for term, value in surface(terms, layers, in_relief).items():
            if (channel == "roughness" or own) and term == "roughness.value":
                continue
            params[f"{at}.{base}{term}"] = value
        pictured = channel == "base colour"
        params[f"{at}.{base}diffuse_reflectance_sampling_rate"] = diffuse_worth(colours, terms, pictured)
        if MASK in layers and channel != "opacity" and not own:
            params[f"{at}.{mask}opacity{under}.value"] = mi.Color3f(float(terms[-2]))
        if "emission" in layers and channel != "emission" and not own:
            sent = mi.Color3f(*(float(c) for c in emission(colours, terms)))
            params[f"{at}.emitter.radiance{under}.value"] = sent

    def _uncover(self, at: str, title: BodyState, params: Any) -> None:
        """What of a thing is there now."""
        if title.reveal is None:
            return
        row = reveal_rows([title.reveal], title.matrix[None], reveal_box(title.form, self.bodies))[0]
        for slot in ("bsdf.opacity.numbers", "emitter.radiance.numbers"):
            if f"{at}.{slot}" in params:
                params[f"{at}.{slot}"] = engine().Float(row.astype(np.float32))


def _untinted(state: FrameState) -> SurroundingsState:
    return replace(state.around, tint=(1.0, 1.0, 1.0))


def _opaque(matrix: Any) -> Any:
    """A transform that is data, not part of the compiled kernel."""
    mi, dr = engine(), arrays()
    made = mi.Transform4f(mi.Matrix4f(matrix.tolist()))
    dr.make_opaque(made)
    return made


def part_id(name: str, finish: int, part: str) -> str:
    """What the renderer calls a part of a body."""
    return f"{name}_{finish}_{part}"


def light_id(name: str) -> str:
    """What the renderer calls a light."""
    return f"{name.replace('@', 'sky-')}_light"


def surface_index(title: BodyState, finish: int, part: str) -> int:
    """Number of the surface that a part wears."""
    return int(title.surface_index[min(finish, len(title.surface_index) - 1), PARTS.index(part)])


def _with_seam(shape: tuple[int, ...], picture: Any) -> Any:
    """Panorama as the renderer stores it: some versions repeat the first column after the last."""
    mi = engine()
    if shape[1] == picture.shape[1] + 1:
        picture = np.concatenate([picture, picture[:, :1]], axis=1)
    if shape[2] == 4:
        picture = np.concatenate([picture, np.ones((*picture.shape[:2], 1), np.float32)], axis=2)
    return mi.TensorXf(np.ascontiguousarray(picture))


def _textures(title: BodyState, number: int, bodies: BodyStore) -> dict[str, dict[str, Any]]:
    """What pictures set on a surface, by channel."""
    if title.pictured is not None:
        return {"base colour": texture(fill_picture(*title.pictured), "once")}
    picture = title.pictures[number]
    if picture is None:
        return {}
    return {picture.channel: texture(_shown(title, number, bodies), picture.repeat)}


def _showing(title: BodyState, number: int) -> tuple[object, ...]:
    """What tells pictures apart that are on a surface at different times."""
    picture = title.pictures[number]
    if picture is None:
        return ()
    return title.playing[number] if title.playing else 0, title.texture_transform[
        number
    ].tobytes() if travels(picture) else b""


def _shown(title: BodyState, number: int, bodies: BodyStore) -> Any:
    """The picture on a surface, with as many channels as what it sets has."""
    picture = title.pictures[number]
    assert picture is not None
    shown = shown_picture(
        picture,
        title.playing[number] if title.playing else 0,
        title.texture_transform[number],
        bodies,
        title.form,
    )
    return luminance(shown)[..., None] if picture.channel in ("roughness", "opacity") else shown


def _uncovering(textures: dict[str, dict[str, Any]], hollow: bool) -> dict[str, Any]:
    """Textures by the channel they set, of a thing of which a part is uncovered; one looks into glass, but
    through what is ``hollow``."""
    found: dict[str, Any] = dict(textures)
    for channel, sends in (("opacity", False), ("emission", True)):
        base = textures.get(channel, {"type": "rgb", "value": [1.0, 1.0, 1.0]})
        found[channel] = {"type": "reveal", "base": engine().load_dict(base), "sends": sends}
        found[channel]["hollow"] = hollow
    return found


def _mesh(name: str, mesh: PartMesh, title: BodyState, number: int, uv: Any, bodies: BodyStore) -> Any:
    mi = engine()
    properties = mi.Properties()
    layers, textures = title.layers[number], _textures(title, number, bodies)
    if title.looks is not None:
        textures = attribute_textures(textures)
    if title.reveal is not None:
        textures = _uncovering(textures, "transmission" not in layers)
    properties["bsdf"] = made(layers, title.bumps[number][0] != "none", textures)
    if "emission" in layers:
        radiance = textures.get("emission", {"type": "rgb", "value": [1.0, 1.0, 1.0]})
        properties["emitter"] = mi.load_dict({"type": "area", "radiance": radiance})
    made_mesh = mi.Mesh(
        name,
        len(mesh.position),
        len(mesh.triangles),
        has_vertex_normals=True,
        has_vertex_texcoords=True,
        props=properties,
    )
    params = mi.traverse(made_mesh)
    params["vertex_positions"] = mi.Float(mesh.position.ravel())
    params["vertex_normals"] = mi.Float(mesh.normal.ravel())
    params["vertex_texcoords"] = mi.Float(uv.ravel())
    params["faces"] = mi.UInt32(mesh.triangles.ravel())
    params.update()
    if title.looks is not None:
        for attribute, size in ATTRIBUTES.values():
            made_mesh.add_attribute(attribute, size, np.ones(size * len(mesh.triangles), np.float32))
    return made_mesh
