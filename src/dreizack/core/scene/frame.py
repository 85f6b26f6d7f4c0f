"""The state of one frame: all the renderer is told."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..colour import AS_SEEN
from ..document import LIMITED, Bodied, Curves, Fill, Floor, Shot, SurfacePicture
from ..finish import layers
from ..light import SurroundingsState
from .baking import Baked, BakedAir, BakedBody, BakedLight, plate_bending
from .caught_shadow import AS_LIT, CaughtShadow
from .form import Form
from .plate_state import CoverState, PatchState, covers_at, patches_at, plate_grain_of
from .reveal import REVEAL_VALUES, RevealState, reveal_state
from .viewing import camera_axes

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class BodyState:
    """A title at one frame: form, ``matrix`` (4, 4), the ``poses`` (pieces, 3, 4) of its pieces, and its
    surfaces: ``colours`` (surfaces, COLOURS, 3), ``terms`` (surfaces, TERMS), ``bumps`` (kind and size of
    each), the ``layers`` each ever has, the ``pictures`` on them and how they lie there: ``placing``
    (surfaces, TEXTURE_TRANSFORM).

    ``surface_index`` (finishes, PARTS) says which surface a part wears; ``fill`` is what is on a sheet,
    ``visibility`` whether it is seen by the camera, seen in reflections, casts and receives shadows, and is a
    catcher, ``blend`` how it is laid over what is behind it;
    ``fades`` (metres, 0 never) how far a floor mirrors, and how far from its place it ends; ``playing``
    (surfaces,) which frame of a video each shows; ``looks`` (pieces, LOOK_VALUES) what sets do to what its
    letters look like, None where they do nothing; ``reveal`` what of it is uncovered, None where all is.
    """

    form: Form
    matrix: Floats
    poses: Floats
    colours: Floats
    terms: Floats
    surface_index: Ints
    layers: tuple[tuple[str, ...], ...]
    bumps: tuple[tuple[str, float], ...]
    pictures: tuple[SurfacePicture | None, ...] = ()
    texture_transform: Floats = field(default_factory=lambda: np.zeros((0, 4)))
    fill: Fill | None = None
    visibility: tuple[bool, bool, bool, bool, bool] = (True, True, True, True, False)
    blend: str = "normal"
    fades: tuple[float, float] = (0.0, 0.0)
    playing: tuple[int, ...] = ()
    looks: Floats | None = None
    reveal: RevealState | None = None

    @property
    def pictured(self) -> tuple[Fill, tuple[float, float, float]] | None:
        """The fill of a sheet that is more than one colour, with its base colour."""
        if self.fill is None or self.fill.kind == "colour":
            return None
        r, g, b = self.colours[0, 0].tolist()
        return self.fill, (r, g, b)

    @property
    def key(self) -> Any:
        """Plain values that change with anything tracing can see."""
        return (
            self.form.key,
            self.matrix.tolist(),
            self.poses.round(9).tolist(),
            self.colours.tolist(),
            self.terms.tolist(),
            self.surface_index.tolist(),
            self.bumps,
            repr(self.fill),
            self.visibility,
            *((self.blend,) if self.blend != "normal" else ()),
            repr(self.pictures),
            self.texture_transform.tolist(),
            self.fades,
            self.playing,
            None if self.looks is None else self.looks.round(6).tolist(),
            *((self.reveal,) if self.reveal is not None else ()),
        )


@dataclass(frozen=True)
class LightState:
    """A light at one frame: ``matrix`` (4, 4) of what glows, ``radiance`` (3,), and for a spot the cosines of
    its cone (2,).

    ``shadow`` is shadow colour and density (4,); ``reaches`` names the things it falls on, None means all;
    ``slide`` is the file of a picture that a spot throws.
    """

    source: str
    matrix: Floats
    radiance: Floats
    cone: Floats | None = None
    mirrored: bool = True
    shadow: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 1.0)
    reaches: tuple[str, ...] | None = None
    slide: str = ""
    falloff: str = "inverse square"

    @property
    def key(self) -> Any:
        cone = None if self.cone is None else self.cone.tolist()
        return (
            self.source,
            self.matrix.tolist(),
            self.radiance.tolist(),
            cone,
            self.mirrored,
            self.shadow,
            self.reaches,
            self.slide,
            self.falloff,
        )


@dataclass(frozen=True)
class Pose:
    """Where the camera stands, what it looks at, its roll and vertical angle of view in degrees."""

    position: Floats
    aim: Floats
    roll: float
    angle: float

    @property
    def axes(self) -> Floats:
        """Camera axes (3, 3): right, up, forward as rows; y is up unless it looks straight up or down."""
        axes: Floats = camera_axes(self.position[None], self.aim[None], np.array([self.roll]))[0]
        return axes

    @property
    def key(self) -> Any:
        return self.position.tolist(), self.aim.tolist(), self.roll, self.angle


@dataclass(frozen=True)
class Lens:
    """The opening: ``radius`` in metres (0 is a pinhole), distance that is in focus, corners and their turn
    in degrees."""

    radius: float = 0.0
    focus: float = 1.0
    blades: int = 0
    turn: float = 0.0


@dataclass(frozen=True)
class AirState:
    """Air at one frame: its density a metre, its colour, how much it scatters forward, -1..1, how many metres
    it reaches from the camera, and whether it is before the backdrop, too."""

    density: float
    tint: tuple[float, float, float]
    forward: float
    reach: float
    over: bool


@dataclass(frozen=True)
class FrameState:
    """One frame, or one moment of it. ``during`` holds the moments while the shutter is open, where anything
    but the camera moves; ``closing`` is the camera's pose when it closes. ``number`` and ``optics`` are for
    what comes after tracing, as are ``shadow_tone``, what shadow takes of the plate, ``bending``, the
    radial term of the plate's lens, ``plate_grain``, ``covers`` and ``patches``,
    ``tones`` (curves and table of the grade) and what is ``graded``. ``air`` is None where it is clear;
    ``filmed`` says how far words are blurred, in heights of the picture, and how black they are at
    most; ``area_things``: effects that are kept to a thing, or away from it; ``displaced_by``, the picture
    that moves what is seen; ``focus_afterwards``, the lens that the finished picture is to look as seen
    through, while it is traced sharp. ``caught`` says what shadows on catchers do that light does not."""

    pose: Pose
    around: SurroundingsState
    surroundings_strength: float
    surroundings_rotation: float
    surroundings_tilt: float
    titles: dict[str, BodyState]
    lights: dict[str, LightState]
    exposure: float
    backdrop: Floats
    lens: Lens = field(default_factory=Lens)
    closing: Pose | None = None
    during: tuple[FrameState, ...] = ()
    behind: Behind | None = None
    view: str = "shoulder"
    aspect: float = 16 / 9
    number: int = 0
    optics: dict[str, float] = field(default_factory=dict)
    shadow_tone: tuple[float, float, float] = (1.0, 1.0, 1.0)
    caught: CaughtShadow = AS_LIT
    bending: float = 0.0
    plate_grain: tuple[tuple[float, float, float], float, float, str] | None = None
    covers: tuple[CoverState, ...] = ()
    patches: tuple[PatchState, ...] = ()
    tones: tuple[Any, ...] | None = None
    graded: str = "everything"
    area_things: tuple[tuple[str, str, bool], ...] = ()
    displaced_by: str = ""
    focus_afterwards: Lens | None = None
    air: AirState | None = None
    filmed: tuple[float, tuple[float, float, float]] | None = None

    @property
    def things_key(self) -> Any:
        """Plain values that change with anything tracing can see but the camera."""
        return (
            self.around,
            self.surroundings_strength,
            self.surroundings_rotation,
            self.surroundings_tilt,
            [t.key for t in self.titles.values()],
            [light.key for light in self.lights.values()],
            *([self.air] if self.air else []),
            *([self.caught.key] if self.catches and self.caught.key else []),
        )

    @property
    def traced_key(self) -> str:
        """Hash of exactly what tracing can see; exposure and a backdrop that no glass bends come after it."""
        camera = (self.pose.key, self.closing.key if self.closing else None, self.lens)
        return fingerprint(
            (camera, self.things_key, [moment.traced_key for moment in self.during], self.bent)
        )

    @property
    def bent(self) -> Any:
        """The backdrop, where rays see it: through glass, if it is more than a colour, and where a catcher
        stands for what is in it."""
        glass = any("transmission" in layers for title in self.titles.values() for layers in title.layers)
        seen = (glass and self.behind is not None) or self.catches
        patched = [patch.key for patch in self.patches]
        told = (self.behind, self.backdrop.tolist(), self.exposure, self.view)
        return ((*told, patched) if patched else told) if seen else None

    @property
    def catches(self) -> bool:
        """Whether there is a catcher."""
        return any(title.visibility[4] for title in self.titles.values())


@dataclass(frozen=True)
class Behind:
    """A backdrop that is not one colour: kind, colour above, picture, blur in degrees, and how far away it
    lies (metres); ``frame`` is which one of a video is shown, ``encoding`` how a plate's camera wrote it."""

    kind: str
    second: tuple[float, float, float]
    picture: str
    blur: float
    distance: float = 12.0
    frame: int = 0
    encoding: str = AS_SEEN


def fingerprint(value: Any) -> str:
    """Short stable hash of plain values."""
    return hashlib.blake2b(repr(value).encode(), digest_size=16).hexdigest()


def frame_state(shot: Shot, baked: Baked, index: int) -> FrameState:
    """Pick one frame (by its place in the baked run) out of the arrays."""
    shot = baked.shot
    camera = shot.camera
    lens = Lens(float(baked.lens_radius[index]), float(baked.focus[index]), camera.blades, camera.blade_turn)
    later = camera.focus_drawn == "afterwards"
    return FrameState(
        pose=Pose(
            baked.camera_position[index],
            baked.camera_aim[index],
            float(baked.camera_roll[index]),
            float(baked.camera_angle[index]),
        ),
        around=_around(shot, baked, index),
        surroundings_strength=float(baked.surroundings_strength[index]),
        surroundings_rotation=float(baked.surroundings_rotation[index]),
        surroundings_tilt=float(baked.surroundings_tilt[index]),
        titles={name: _title(shot, name, t, index) for name, t in baked.titles.items() if t.there[index]},
        lights={
            name: _light(shot, name, light, index)
            for name, light in baked.lights.items()
            if light.there[index]
        },
        exposure=float(baked.exposure[index]),
        backdrop=baked.backdrop[index],
        lens=Lens() if later else lens,
        focus_afterwards=lens if later else None,
        behind=_behind(shot, baked, index),
        view=camera.view,
        aspect=shot.format.aspect,
        number=int(np.floor(baked.frames[index] + 0.5)),
        optics={name: float(values[index]) for name, values in baked.optics.items()},
        shadow_tone=_three(baked.shadow_tone[index]),
        caught=CaughtShadow(*baked.caught[index].tolist()),
        bending=plate_bending(shot),
        plate_grain=plate_grain_of(shot),
        tones=_tones(shot),
        graded=shot.optics.grade.reaches,
        area_things=area_things(shot),
        displaced_by=shot.optics.bend.file,
        covers=covers_at(baked, index),
        patches=patches_at(baked, index),
        air=_air(baked.air, index),
        filmed=_filmed(shot, baked, index),
    )


def _filmed(shot: Shot, baked: Baked, index: int) -> tuple[float, tuple[float, float, float]] | None:
    """What makes words look filmed with the plate, in shares of the picture's height; None without one."""
    blur, *_ = baked.filmed[index]
    if shot.backdrop.kind != "plate" or not baked.filmed[index].any():
        return None
    return float(blur) / shot.format.height, _three(baked.filmed[index, 1:])


def _air(air: BakedAir, index: int) -> AirState | None:
    """The air at a frame; None where it is clear."""
    if air.density[index] <= 0:
        return None
    return AirState(
        float(air.density[index]),
        _three(air.tint[index]),
        float(air.forward[index]),
        float(air.reach[index]),
        air.over,
    )


def _tones(shot: Shot) -> tuple[Any, ...] | None:
    """Curves, each a tuple of points, the table and what it is made for; None where none does anything."""
    curves, table, plain = shot.optics.curves, shot.optics.table, Curves()
    names = ("all", "red", "green", "blue", "saturation")
    if not table.file and all(getattr(curves, name) == getattr(plain, name) for name in names):
        return None
    return (*(tuple(getattr(curves, name)) for name in names), table.file, table.takes)


def area_things(shot: Shot) -> tuple[tuple[str, str, bool], ...]:
    """Effects of the optics, the thing each is kept to, and whether it is kept away from it instead."""
    of = shot.optics
    areas = [(name, getattr(of, name).area) for name in LIMITED]
    return tuple((name, area.thing, area.but_for) for name, area in areas if area.thing in shot.things)


def _three(values: Floats) -> tuple[float, float, float]:
    a, b, c = values.tolist()
    return a, b, c


def _around(shot: Shot, baked: Baked, index: int) -> SurroundingsState:
    s = shot.surroundings
    r, g, b = baked.surroundings_tint[index].round(4).tolist()
    blur = round(float(baked.surroundings_blur[index]), 2)
    if s.source == "sky":
        elevation, azimuth = baked.sun[index].round(2).tolist()
        return SurroundingsState("sky", haze=s.haze, sun=(elevation, azimuth), tint=(r, g, b), blur=blur)
    if s.source == "video":
        return SurroundingsState(
            "video", picture=s.video, tint=(r, g, b), blur=blur, frame=int(baked.surroundings_frame[index])
        )
    if s.source == "picture":
        return SurroundingsState("picture", picture=s.picture, tint=(r, g, b), blur=blur)
    return SurroundingsState("made-up room", studio=s.studio, tint=(r, g, b), blur=blur)


def _behind(shot: Shot, baked: Baked, index: int) -> Behind | None:
    b = shot.backdrop
    if b.kind == "colour":
        return None
    red, green, blue = baked.backdrop_second[index].tolist()
    return Behind(
        b.kind,
        (red, green, blue),
        shot.plate.clip if b.kind == "plate" else b.video if b.kind == "video" else b.picture,
        b.blur,
        b.distance,
        int(baked.backdrop_frame[index]),
        shot.plate.encoding,
    )


def _title(shot: Shot, name: str, t: BakedBody, index: int) -> BodyState:
    thing = shot.bodied[name]
    seen = thing.visibility
    return BodyState(
        t.forms[int(t.form[index])],
        t.matrix[index],
        t.poses_at(index),
        t.colours[index],
        t.terms[index],
        t.surface_index,
        tuple(_layers(t, k) for k in range(t.terms.shape[1])),
        t.bumps,
        t.pictures,
        t.texture_transform[index],
        getattr(thing, "fill", None),
        (seen.camera, seen.reflections, seen.casts, seen.receives, seen.catches),
        seen.blend,
        _fades(thing),
        tuple(t.playing[index].tolist()),
        t.looks_at(index),
        None if t.reveal is None else reveal_state(thing, t.reveal[index]),
    )


def _fades(thing: Bodied) -> tuple[float, float]:
    return (thing.mirror_reach, thing.fades) if isinstance(thing, Floor) else (0.0, 0.0)


def _layers(t: BakedBody, surface: int) -> tuple[str, ...]:
    """The layers a surface ever has, with those that its picture or its letters set."""
    found = layers(t.terms[:, surface])
    if t.looks is not None:
        opacity, glow = t.looks[..., 0].min(), t.looks[..., 1].max()
        found += tuple(
            name
            for name, there in (("emission", glow > 0), ("opacity", opacity < 1))
            if there and name not in found
        )
    if t.reveal is not None:
        glows = t.reveal[:, REVEAL_VALUES.index("glow")].max() > 0
        found += tuple(
            name for name, there in (("emission", glows), ("opacity", True)) if there and name not in found
        )
    picture = t.pictures[surface]
    sets = picture.channel if picture is not None else ""
    return (*found, sets) if sets in ("emission", "opacity") and sets not in found else found


def _light(shot: Shot, name: str, light: BakedLight, index: int) -> LightState:
    r, g, b, density = light.shadow[index].tolist()
    cone = None if light.cone is None else light.cone[index]
    return LightState(
        light.source,
        light.matrix[index],
        light.radiance[index],
        cone,
        light.mirrored,
        (r, g, b, density),
        light.reaches,
        light.slide,
        light.falloff,
    )
