"""A shot over all its frames, as arrays."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..document import Shot, Title, resolve
from ..light import panel_matrix, panel_radiance
from ..motion import Motion
from .bodies import Form

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class BakedTitle:
    """A title over time: ``matrix`` (frames, 4, 4), finish (frames, 3), (frames,), (frames,).

    ``forms`` holds each distinct form once, ``form`` (frames,) says which one a frame shows.
    """

    matrix: Floats
    base_colour: Floats
    metallic: Floats
    roughness: Floats
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
    focal = motion.value("/camera/focal_length")
    sensor_height = shot.camera.sensor_width / shot.format.aspect
    return Baked(
        frames=at,
        camera_position=motion.vector("/camera/position"),
        camera_aim=motion.vector("/camera/aim"),
        camera_roll=motion.value("/camera/roll"),
        camera_angle=np.degrees(2 * np.arctan(sensor_height / (2 * focal))),
        exposure=motion.value("/camera/exposure"),
        surroundings_strength=np.exp2(motion.value("/surroundings/strength")),
        surroundings_rotation=motion.value("/surroundings/rotation"),
        backdrop=motion.vector("/backdrop/colour", "rgb"),
        titles={name: _title(motion, name, title) for name, title in shot.titles.items()},
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


def _title(motion: Motion, name: str, title: Title) -> BakedTitle:
    at = f"/things/{name}"
    forms, form = _forms(motion, at, title)
    return BakedTitle(
        matrix=place_matrix(
            motion.vector(f"{at}/place/position"), motion.vector(f"{at}/place/rotation"),
            motion.value(f"{at}/place/scale"),
        ),
        base_colour=motion.vector(f"{at}/finish/base_colour", "rgb"),
        metallic=motion.value(f"{at}/finish/metallic"),
        roughness=motion.value(f"{at}/finish/roughness"),
        forms=forms,
        form=form,
    )


_SHAPING = (
    "setting/size", "setting/tracking", "setting/leading", "body/depth",
    "body/front/reach", "body/front/rise", "body/back/reach", "body/back/rise",
)


def _forms(motion: Motion, at: str, title: Title) -> tuple[list[Form], Ints]:
    """Distinct forms and their index per frame; keyed values are rounded to a micrometre."""
    if any(motion.keyed(f"{at}/{value}") for value in _SHAPING):
        values = np.round(np.stack([motion.value(f"{at}/{value}") for value in _SHAPING], axis=1), 6)
        distinct, index = np.unique(values, axis=0, return_inverse=True)
    else:
        distinct = np.array([[float(resolve(motion.shot, f"{at}/{value}")) for value in _SHAPING]])
        index = np.zeros(len(motion.frames), np.int64)
    setting, body = title.setting, title.body
    forms = [
        Form(
            title.words, setting.typeface, size, tracking, leading, setting.align, depth,
            (body.front.profile, front_reach, front_rise), (body.back.profile, back_reach, back_rise), body.direction,
        )
        for size, tracking, leading, depth, front_reach, front_rise, back_reach, back_rise in distinct.tolist()
    ]
    return forms, index.reshape(-1).astype(np.int64)


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
