"""A shot over all its frames, as arrays."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..document import Bodied, Sheet, Shot, Title, resolve
from ..finish import TERMS
from ..light import panel_matrix, panel_radiance
from ..motion import Motion
from .form import Form, finishes, size_of

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class BakedTitle:
    """A title over time: ``matrix`` (frames, 4, 4), its finishes ``base_colour`` (frames, finishes, 3),
    ``terms`` (frames, finishes, :data:`~dreizack.core.finish.TERMS`).

    ``forms`` holds each distinct form once, ``form`` (frames,) says which one a frame shows.
    """

    matrix: Floats
    base_colour: Floats
    terms: Floats
    forms: list[Form]
    form: Ints


@dataclass(frozen=True)
class BakedLight:
    """A panel over time: ``matrix`` (frames, 4, 4) of the square -1..1, ``radiance`` (frames, 3)."""

    matrix: Floats
    radiance: Floats
    position: Floats
    aim: Floats
    size: Floats


@dataclass(frozen=True)
class Baked:
    """Everything a frame needs, for all frames; angles in degrees, lengths in metres."""

    frames: Floats
    camera_position: Floats
    camera_aim: Floats
    camera_roll: Floats
    camera_angle: Floats
    exposure: Floats
    surroundings_strength: Floats
    surroundings_rotation: Floats
    backdrop: Floats
    titles: dict[str, BakedTitle]
    lights: dict[str, BakedLight]
    channels: dict[str, Floats]


def bake(shot: Shot, frames: Floats | None = None) -> Baked:
    """Evaluate a shot at ``frames`` (all of its own by default; fractions are allowed)."""
    at = np.arange(shot.format.frames, dtype=np.float64) if frames is None else np.asarray(frames, np.float64)
    motion = Motion(shot, at)
    focal, position = motion.value("/camera/focal_length"), motion.vector("/camera/position")
    sensor_height = shot.camera.sensor_width / shot.format.aspect
    angle = np.degrees(2 * np.arctan(sensor_height / (2 * focal)))
    return Baked(
        frames=at,
        camera_position=position,
        camera_aim=motion.vector("/camera/aim"),
        camera_roll=motion.value("/camera/roll"),
        camera_angle=angle,
        exposure=motion.value("/camera/exposure"),
        surroundings_strength=np.exp2(motion.value("/surroundings/strength")),
        surroundings_rotation=motion.value("/surroundings/rotation"),
        backdrop=motion.vector("/backdrop/colour", "rgb"),
        titles={name: _title(motion, name, thing, position, angle) for name, thing in shot.bodied.items()},
        lights={name: _light(motion, name) for name, light in shot.lights.items() if light.on},
        channels=motion.channels,
    )


def _light(motion: Motion, name: str) -> BakedLight:
    at = f"/things/{name}"
    position, aim = motion.vector(f"{at}/position"), motion.vector(f"{at}/aim")
    width, height = motion.value(f"{at}/width"), motion.value(f"{at}/height")
    radiance = panel_radiance(motion.value(f"{at}/intensity"), motion.vector(f"{at}/tint", "rgb"), width, height)
    return BakedLight(
        panel_matrix(position, aim, width, height), radiance, position, aim, np.stack([width, height], axis=1)
    )


def _title(motion: Motion, name: str, thing: Bodied, camera: Floats, angle: Floats) -> BakedTitle:
    at = f"/things/{name}"
    matrix = _placed(motion, at)
    if isinstance(thing, Sheet) and thing.fit == "fill the frame":
        matrix = _filling(motion.shot, thing, matrix, camera, angle)
    forms, form = _forms(motion, at, thing, matrix, camera, angle)
    worn = finishes(thing)
    return BakedTitle(
        matrix=matrix,
        base_colour=np.stack([motion.vector(f"{at}{finish}/base_colour", "rgb") for finish in worn], axis=1),
        terms=np.stack([np.stack([motion.value(f"{at}{finish}/{term}") for term in TERMS], axis=1) for finish in worn], axis=1),
        forms=forms,
        form=form,
    )


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
    chords = _chords(motion.shot, thing, matrix, camera, angle)
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
