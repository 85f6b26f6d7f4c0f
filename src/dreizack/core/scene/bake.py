"""A shot over all its frames, as arrays."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..clips import clip_facts, shown_frames
from ..document import Bodied, Floor, Light, Sheet, Shot, SurfacePicture, Title, resolve
from ..finish import COLOURS, PLACING, TERMS
from ..light import cone_cosines, kelvin_tint, source_matrix, source_radiance, stops_of, sun_angles, sun_direction, sun_level
from ..motion import Motion
from .form import Form, size_of, surfaces

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# The light that stands for the sun of a sky; no thing can have this name.
SKY_SUN = "@sun"
SUN_BREADTH = 0.53


@dataclass(frozen=True)
class BakedTitle:
    """A title over time: ``matrix`` (frames, 4, 4), its surfaces: ``colours`` (frames, surfaces, COLOURS, 3) and
    ``terms`` (frames, surfaces, TERMS), both of :mod:`dreizack.core.finish`, and ``bumps``, kind and size of each.

    ``pictures`` is what is on each surface, ``placing`` (frames, surfaces, PLACING) how it lies there,
    ``playing`` (frames, surfaces) which frame of a video it is.
    ``worn`` (finishes, PARTS) says which surface a part wears. ``forms`` holds each distinct form once, ``form``
    (frames,) says which one a frame shows.
    """

    matrix: Floats
    colours: Floats
    terms: Floats
    worn: Ints
    bumps: tuple[tuple[str, float], ...]
    pictures: tuple[SurfacePicture | None, ...]
    placing: Floats
    playing: Ints
    forms: list[Form]
    form: Ints


@dataclass(frozen=True)
class BakedLight:
    """A light over time: ``matrix`` (frames, 4, 4) of what glows, ``radiance`` (frames, 3), ``size`` (frames, 2) in
    metres (of the sun: degrees), ``cone`` (frames, 2) cosines where it has one, ``shadow`` (frames, 4) colour and density.
    """

    source: str
    matrix: Floats
    radiance: Floats
    position: Floats
    aim: Floats
    size: Floats
    cone: Floats | None
    shadow: Floats
    mirrored: bool
    reaches: tuple[str, ...] | None
    slide: str = ""
    falloff: str = "inverse square"


@dataclass(frozen=True)
class Baked:
    """Everything a frame needs, for all frames; angles in degrees, lengths in metres.

    ``sun`` (frames, 2) is elevation and azimuth where the surroundings are a sky, ``lens_radius`` (frames,) that of
    the opening, 0 where all is in focus.
    """

    frames: Floats
    camera_position: Floats
    camera_aim: Floats
    camera_roll: Floats
    camera_angle: Floats
    lens_radius: Floats
    focus: Floats
    exposure: Floats
    surroundings_strength: Floats
    surroundings_rotation: Floats
    surroundings_tilt: Floats
    surroundings_tint: Floats
    surroundings_blur: Floats
    surroundings_frame: Ints
    sun: Floats
    backdrop: Floats
    backdrop_second: Floats
    backdrop_frame: Ints
    titles: dict[str, BakedTitle]
    lights: dict[str, BakedLight]
    channels: dict[str, Floats]


def bake(shot: Shot, frames: Floats | None = None) -> Baked:
    """Evaluate a shot at ``frames`` (all of its own by default; fractions are allowed)."""
    at = np.arange(shot.format.frames, dtype=np.float64) if frames is None else np.asarray(frames, np.float64)
    motion = Motion(shot, at)
    focal, position = motion.value("/camera/focal_length"), motion.vector("/camera/position")
    aim = motion.vector("/camera/aim")
    sensor_height = shot.camera.sensor_width / shot.format.aspect
    angle = np.degrees(2 * np.arctan(sensor_height / (2 * focal)))
    radius = focal / 2000 / motion.value("/camera/f_stop") if shot.camera.defocus else np.zeros(len(at))
    focus = motion.value("/camera/focus_distance") if shot.camera.focus == "distance" else np.linalg.norm(aim - position, axis=1)
    sun, around, behind = _sun(motion), shot.surroundings, shot.backdrop
    lights = {name: _light(motion, name, light) for name, light in shot.lit.items()}
    if shot.surroundings.source == "sky":
        lights[SKY_SUN] = _sky_sun(motion, sun)
    return Baked(
        frames=at,
        camera_position=position,
        camera_aim=aim,
        camera_roll=motion.value("/camera/roll"),
        camera_angle=angle,
        lens_radius=radius,
        focus=np.maximum(focus, 0.02),
        exposure=motion.value("/camera/exposure"),
        surroundings_strength=np.exp2(motion.value("/surroundings/strength")),
        surroundings_rotation=motion.value("/surroundings/rotation"),
        surroundings_tilt=motion.value("/surroundings/tilt"),
        surroundings_tint=motion.vector("/surroundings/tint", "rgb"),
        surroundings_blur=motion.value("/surroundings/blur"),
        surroundings_frame=_playing(motion, "/surroundings", around.video if around.source == "video" else "", around.speed, around.after),
        sun=sun,
        backdrop=motion.vector("/backdrop/colour", "rgb"),
        backdrop_frame=_playing(motion, "/backdrop", behind.video if behind.kind == "video" else "", behind.speed, behind.after),
        backdrop_second=motion.vector("/backdrop/second", "rgb"),
        titles={name: _title(motion, name, thing, position, angle) for name, thing in shot.bodied.items()},
        lights=lights,
        channels=motion.channels,
    )


def _light(motion: Motion, name: str, light: Light) -> BakedLight:
    at, source = f"/things/{name}", light.source
    position, aim = motion.vector(f"{at}/position"), _aim(motion, at, light)
    across = {"panel": "width", "sun": "breadth"}.get(source, "size")
    down = {"panel": "height"}.get(source, across)
    size = np.stack([motion.value(f"{at}/{across}"), motion.value(f"{at}/{down}")], axis=1)
    tint = kelvin_tint(motion.value(f"{at}/kelvin")) if light.colour_by == "kelvin" else motion.vector(f"{at}/tint", "rgb")
    shadow = np.column_stack([motion.vector(f"{at}/shadow_colour", "rgb"), motion.value(f"{at}/shadow_density")])
    stops = motion.value(f"{at}/intensity")
    if light.measured_in != "stops":
        stops = stops_of(source, light.measured_in, motion.value(f"{at}/amount"), motion.value(f"{at}/cone"), motion.value(f"{at}/penumbra"))
    return BakedLight(
        source, source_matrix(source, position, aim, size), source_radiance(source, stops, tint, size), position, aim, size,
        cone_cosines(motion.value(f"{at}/cone"), motion.value(f"{at}/penumbra")) if source == "spot" else None, shadow, light.mirrored,
        None if light.reaches == "everything" else tuple(thing for thing in motion.shot.bodied if light.reached(thing)),
        light.slide if source == "spot" else "", light.falloff,
    )


def _aim(motion: Motion, at: str, light: Light) -> Floats:
    """Where a light looks (frames, 3): its aim, or the middle of the letters of the thing it follows."""
    thing = motion.shot.bodied.get(light.aim_at)
    if thing is None:
        return motion.vector(f"{at}/aim")
    height = 0.0 if isinstance(thing, Floor) else 0.36 * size_of(thing)
    matrix = _placed(motion, f"/things/{light.aim_at}")
    middle: Floats = (matrix @ np.array([0.0, height, 0.0, 1.0]))[:, :3]
    return middle


def _sun(motion: Motion) -> Floats:
    s = motion.shot.surroundings
    if s.sky_by == "place and time":
        return np.column_stack(sun_angles(s.latitude, s.longitude, float(s.day), motion.value("/surroundings/hour")))
    return np.column_stack([motion.value("/surroundings/sun_elevation"), motion.value("/surroundings/sun_azimuth")])


def _sky_sun(motion: Motion, sun: Floats) -> BakedLight:
    """The sun of the sky, as a light; it turns, brightens and is tinted with the surroundings."""
    count = len(sun)
    turned = np.radians(motion.value("/surroundings/rotation"))
    x, y, z = sun_direction(sun[:, 0], sun[:, 1]).T
    away = np.stack([x * np.cos(turned) + z * np.sin(turned), y, z * np.cos(turned) - x * np.sin(turned)], axis=1)
    tilted = np.radians(motion.value("/surroundings/tilt"))
    x, y, z = away.T
    away = np.stack([x, y * np.cos(tilted) - z * np.sin(tilted), y * np.sin(tilted) + z * np.cos(tilted)], axis=1)
    size = np.full((count, 2), SUN_BREADTH)
    strength = motion.value("/surroundings/strength")
    level = sun_level(sun[:, 0], motion.shot.surroundings.haze) * motion.vector("/surroundings/tint", "rgb")
    position, aim = away * 20, np.zeros((count, 3))
    shadow = np.tile([0.0, 0.0, 0.0, 1.0], (count, 1))
    return BakedLight("sun", source_matrix("sun", position, aim, size), source_radiance("sun", strength, level, size), position, aim, size, None, shadow, True, None)


def _title(motion: Motion, name: str, thing: Bodied, camera: Floats, angle: Floats) -> BakedTitle:
    at = f"/things/{name}"
    matrix = _placed(motion, at)
    if isinstance(thing, Sheet) and thing.fit == "fill the frame":
        matrix = _filling(motion.shot, thing, matrix, camera, angle)
    forms, form = _forms(motion, at, thing, matrix, camera, angle)
    pointers, worn = surfaces(thing)
    own = [resolve(thing, pointer) for pointer in pointers]
    return BakedTitle(
        matrix=matrix,
        colours=np.stack([np.stack([motion.vector(f"{at}{p}/{c}", "rgb") for c in COLOURS], axis=1) for p in pointers], axis=1),
        terms=np.stack([np.stack([motion.value(f"{at}{p}/{term}") for term in TERMS], axis=1) for p in pointers], axis=1),
        worn=worn,
        bumps=tuple((surface.bump, surface.bump_size) for surface in own),
        pictures=tuple(surface.picture if surface.picture.fill != "none" else None for surface in own),
        placing=np.stack([np.stack([motion.value(f"{at}{p}/picture/{name}") for name in PLACING], axis=1) for p in pointers], axis=1),
        playing=np.stack([_surface_playing(motion, f"{at}{p}/picture", surface.picture) for p, surface in zip(pointers, own, strict=True)], axis=1),
        forms=forms,
        form=form,
    )


def _playing(motion: Motion, at: str, video: str, speed: float, after: str) -> Ints:
    """Which frames (frames,) of a video are shown; 0 where there is none."""
    facts = clip_facts(video) if video else None
    if facts is None:
        return np.zeros(len(motion.frames), np.int64)
    seconds = motion.frames / motion.shot.format.rate.per_second
    return shown_frames(seconds, speed, motion.value(f"{at}/offset"), after, facts.frames, float(facts.rate))


def _surface_playing(motion: Motion, at: str, picture: SurfacePicture) -> Ints:
    return _playing(motion, at, picture.file if picture.fill == "video" else "", picture.speed, picture.after)


def _placed(motion: Motion, at: str) -> Floats:
    return place_matrix(
        motion.vector(f"{at}/place/position"), motion.vector(f"{at}/place/rotation"), motion.value(f"{at}/place/scale"),
    )


def _filling(shot: Shot, sheet: Sheet, matrix: Floats, camera: Floats, angle: Floats) -> Floats:
    """Matrices that scale a sheet so that it covers the picture where it stands, facing as it does."""
    away = np.linalg.norm(camera - matrix[:, :3, 3], axis=1)
    high = 2 * away * np.tan(np.radians(angle) / 2)
    scale = np.linalg.norm(matrix[:, :3, 0], axis=1)
    wide = np.maximum(high * shot.format.aspect / sheet.width, high / sheet.height) / scale
    grown = matrix.copy()
    grown[:, :3, :2] *= wide[:, None, None]
    return grown


def _forms(
    motion: Motion, at: str, thing: Bodied, matrix: Floats, camera: Floats, angle: Floats
) -> tuple[list[Form], Ints]:
    """Distinct forms and their index per frame; keyed values are rounded to a micrometre."""
    chords = 0.0 if isinstance(thing, Floor) else _chords(motion.shot, thing, matrix, camera, angle)
    cut = _cut(motion, thing, matrix) if isinstance(thing, Sheet) else None
    keyed = [
        pointer for pointer in motion.channels
        if pointer.startswith(f"{at}/") and not pointer.startswith((f"{at}/place/", f"{at}/fill/")) and "/finish" not in pointer
    ]
    columns = [np.round(motion.value(pointer), 6) for pointer in keyed]
    path = thing.path if isinstance(thing, Title) else None
    faces = path is not None and path.kind != "none" and path.stance == "bulging" and path.facing == "camera"
    if faces:
        seen = np.einsum("fij,fj->fi", np.linalg.inv(matrix), np.column_stack([camera, np.ones(len(camera))]))[:, :3]
        columns += list(np.round(seen, 4).T)
    if not columns:
        return [Form(thing, chords, cut=cut)], np.zeros(len(motion.frames), np.int64)
    distinct, index = np.unique(np.stack(columns, axis=1), axis=0, return_inverse=True)
    forms = []
    for row in distinct.tolist():
        shown = thing.model_copy(deep=True)
        for pointer, value in zip(keyed, row, strict=False):
            _put(shown, pointer[len(at) :], value)
        forms.append(Form(shown, chords, (row[-3], row[-2], row[-1]) if faces else None, cut))
    return forms, index.reshape(-1).astype(np.int64)


def _cut(motion: Motion, sheet: Sheet, matrix: Floats) -> tuple[Title, tuple[float, ...]] | None:
    """The title that is cut out of a sheet, where it rests at the first frame, in the sheet's space."""
    title = motion.shot.things.get(sheet.cut)
    if not isinstance(title, Title):
        return None
    place = np.linalg.inv(matrix[0]) @ _placed(motion, f"/things/{sheet.cut}")[0]
    return title, tuple(place.round(6).ravel().tolist())


def _put(thing: Bodied, pointer: str, value: float) -> None:
    """Set a value without validating again what its channel keeps within limits."""
    parent, _, last = pointer.rpartition("/")
    resolve(thing, parent).__dict__[last] = value


def _chords(shot: Shot, thing: Bodied, matrix: Floats, camera: Floats, angle: Floats) -> float:
    """Metres that chords may stray from curves: its tolerance in pixels at the closest approach of the camera.

    Rounded down to a power of two, so that bodies stay the same while the camera moves a little.
    """
    scale = np.linalg.norm(matrix[:, :3, 0], axis=1)
    size = size_of(thing)
    # Radius of a circle around it; a letter is about as wide as it is high.
    lines = thing.words.split("\n") if isinstance(thing, Title) else ["xx"]
    leading = thing.setting.leading if isinstance(thing, Title) else 1.0
    radius = scale * 0.5 * size * np.hypot(max(map(len, lines)), len(lines) * leading)
    away = np.maximum(np.linalg.norm(camera - matrix[:, :3, 3], axis=1) - radius, 0.5 * size * scale)
    pixel = 2 * away * np.tan(np.radians(angle) / 2) / shot.format.height / np.maximum(scale, 1e-9)
    body = getattr(thing, "body", None)
    wished = float(pixel.min()) * (body.tolerance if body is not None else 0.3)
    return float(np.exp2(np.floor(np.log2(np.clip(wished, 2e-5 * size, 4e-3 * size)))))


def place_matrix(position: Floats, rotation: Floats, scale: Floats) -> Floats:
    """Object-to-world matrices (frames, 4, 4): scale, then x, y, z rotation in degrees, then move."""
    cx, cy, cz = np.cos(np.radians(rotation)).T
    sx, sy, sz = np.sin(np.radians(rotation)).T
    matrix = np.zeros((len(position), 4, 4))
    matrix[:, 0, 0], matrix[:, 0, 1], matrix[:, 0, 2] = cz * cy, cz * sy * sx - sz * cx, cz * sy * cx + sz * sx
    matrix[:, 1, 0], matrix[:, 1, 1], matrix[:, 1, 2] = sz * cy, sz * sy * sx + cz * cx, sz * sy * cx - cz * sx
    matrix[:, 2, 0], matrix[:, 2, 1], matrix[:, 2, 2] = -sy, cy * sx, cy * cx
    matrix[:, :3, :3] *= scale[:, None, None]
    matrix[:, :3, 3] = position
    matrix[:, 3, 3] = 1
    return matrix
