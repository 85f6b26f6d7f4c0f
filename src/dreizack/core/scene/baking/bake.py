"""A shot at many frames at once."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...document import Camera, Placed, Shot, changed_at, hanging, seen_through, with_copies
from ...light import power_of
from ...motion import Motion
from .baked import Baked, BakedAir
from .camera import all_cameras, angle_of_view, camera_course
from .covering import baked_covers, baked_patches
from .lights import SKY_SUN, baked_light, sky_sun, sun_course
from .matched import matched_camera, plate_playing
from .optics import baked_optics
from .places import hung, placed
from .playing import playing
from .titles import Watching, baked_body

Floats = NDArray[np.float64]


def bake(shot: Shot, frames: Floats | None = None) -> Baked:
    """Evaluate a shot at ``frames`` (all of its own by default; fractions are allowed)."""
    at = np.arange(shot.format.frames, dtype=np.float64) if frames is None else np.asarray(frames, np.float64)
    # What changes at frames is as it is in their middle: whoever wants several runs asks for each.
    changed = with_copies(changed_at(shot, float(np.floor(np.median(at) + 0.5)) if len(at) else 0.0))
    shot = seen_through(changed, changed.through)
    motion = Motion(shot, at)
    focal = motion.value("/camera/focal_length")
    position, aim, followed = camera_course(motion)
    angle = angle_of_view(motion)
    radius = focal / 2000 / motion.value("/camera/f_stop") if shot.camera.defocus else np.zeros(len(at))
    focus = np.linalg.norm(aim - position, axis=1)
    if shot.camera.focus == "distance":
        focus = motion.value("/camera/focus_distance")
    sun = sun_course(motion)
    roll = motion.value("/camera/roll")
    matched = matched_camera(motion) if shot.camera.rig == "matched" else None
    if matched is not None:
        roll, angle = matched.roll, matched.angle
    watching = Watching(position, aim, roll, angle)
    lights = {name: baked_light(motion, name, light) for name, light in shot.lit.items()}
    if shot.surroundings.source == "sky":
        lights[SKY_SUN] = sky_sun(motion, sun)
    titles = {name: baked_body(motion, name, thing, watching) for name, thing in shot.bodied.items()}
    return Baked(
        shot=shot,
        frames=at,
        camera_position=position,
        camera_aim=aim,
        camera_followed=followed,
        camera_roll=roll,
        camera_angle=angle,
        lens_radius=radius,
        focus=np.maximum(focus, 0.02),
        exposure=motion.value("/camera/exposure"),
        surroundings_strength=power_of(motion.value("/surroundings/strength")),
        surroundings_rotation=motion.value("/surroundings/rotation"),
        surroundings_tilt=motion.value("/surroundings/tilt"),
        surroundings_tint=motion.vector("/surroundings/tint", "rgb"),
        surroundings_blur=motion.value("/surroundings/blur"),
        surroundings_frame=_surroundings_playing(motion),
        sun=sun,
        backdrop=motion.vector("/backdrop/colour", "rgb"),
        backdrop_frame=_backdrop_playing(motion),
        shadow_tone=motion.value("/plate/shadow_density")[:, None]
        * (1 - motion.vector("/plate/shadow_colour", "rgb")),
        caught=_caught(motion),
        filmed=_filmed(motion),
        backdrop_second=motion.vector("/backdrop/second", "rgb"),
        titles=titles,
        lights=lights,
        optics=baked_optics(motion, position, aim, roll, angle, lights, titles),
        pivots={name: placed(motion, name) for name in shot.pivots},
        spaces=_spaces(motion),
        channels=motion.channels,
        covers=baked_covers(motion),
        patches=baked_patches(motion),
        cameras=all_cameras(changed, at),
        air=_air(motion),
    )


def _caught(motion: Motion) -> Floats:
    """What shadows on the plate do that light does not (frames, 4)."""
    names = ("shadow_fade", "shadow_length", "shadow_ripple", "ripple_size")
    return np.stack([motion.value(f"/plate/{name}") for name in names], axis=1)


def _filmed(motion: Motion) -> NDArray[np.float64]:
    """Blur in pixels and black (frames, 4) of what looks filmed with the plate."""
    return np.column_stack([motion.value("/plate/filmed/blur"), motion.vector("/plate/filmed/black", "rgb")])


def _air(motion: Motion) -> BakedAir:
    at = "/surroundings/air"
    return BakedAir(
        density=motion.value(f"{at}/density"),
        tint=motion.vector(f"{at}/tint", "rgb"),
        forward=motion.value(f"{at}/forward"),
        reach=motion.value(f"{at}/reach"),
        over=motion.shot.surroundings.air.over,
    )


def _spaces(motion: Motion) -> dict[str, NDArray[np.float64]]:
    """Matrices (frames, 4, 4) of what things, or the camera, hang on, by their names."""
    shot = motion.shot
    return {
        name: hung(motion, on)
        for name, thing in [*shot.things.items(), ("camera", shot.camera), *_further(shot)]
        if isinstance(shot.things.get(on := hanging(thing)), Placed)
    }


def _further(shot: Shot) -> list[tuple[str, Camera]]:
    """Further cameras, by what they are called in requests."""
    return [(f"camera:{name}", camera) for name, camera in shot.cameras.items()]


def _surroundings_playing(motion: Motion) -> NDArray[np.int64]:
    """The frame (frames,) of the video around, 0 where there is none."""
    around = motion.shot.surroundings
    video = around.video if around.source == "video" else ""
    return playing(motion, "/surroundings", video, around.speed, around.after)


def _backdrop_playing(motion: Motion) -> NDArray[np.int64]:
    """The frame (frames,) of plate or video behind everything, 0 where there is none."""
    behind = motion.shot.backdrop
    if behind.kind == "plate":
        return plate_playing(motion.shot, motion.frames)
    video = behind.video if behind.kind == "video" else ""
    return playing(motion, "/backdrop", video, behind.speed, behind.after)
