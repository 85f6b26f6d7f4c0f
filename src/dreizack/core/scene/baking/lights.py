"""Lights over time."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...document import Light, Placed
from ...light import (
    cone_cosines,
    kelvin_tint,
    source_matrix,
    source_radiance,
    stops_of,
    sun_angles,
    sun_direction,
    sun_level,
)
from ...motion import Motion, present
from .baked import BakedLight
from .places import hung, middle_of, points_under

Floats = NDArray[np.float64]

# The light that stands for the sun of a sky; no thing can have this name.
SKY_SUN = "@sun"
SUN_BREADTH = 0.53


def baked_light(motion: Motion, name: str, light: Light) -> BakedLight:
    """The light called ``name`` at all frames."""
    at, source = f"/things/{name}", light.source
    on = hung(motion, light.hangs_on)
    position, aim = points_under(on, motion.vector(f"{at}/position")), _aim(motion, at, light, on)
    across = {"panel": "width", "sun": "breadth"}.get(source, "size")
    down = {"panel": "height"}.get(source, across)
    size = np.stack([motion.value(f"{at}/{across}"), motion.value(f"{at}/{down}")], axis=1)
    tint = (
        kelvin_tint(motion.value(f"{at}/kelvin"))
        if light.colour_by == "kelvin"
        else motion.vector(f"{at}/tint", "rgb")
    )
    shadow = np.column_stack(
        [motion.vector(f"{at}/shadow_colour", "rgb"), motion.value(f"{at}/shadow_density")]
    )
    stops = motion.value(f"{at}/intensity")
    if light.measured_in != "stops":
        stops = stops_of(
            source,
            light.measured_in,
            motion.value(f"{at}/amount"),
            motion.value(f"{at}/cone"),
            motion.value(f"{at}/penumbra"),
        )
    return BakedLight(
        source,
        source_matrix(source, position, aim, size),
        source_radiance(source, stops, tint, size),
        position,
        aim,
        size,
        cone_cosines(motion.value(f"{at}/cone"), motion.value(f"{at}/penumbra"))
        if source == "spot"
        else None,
        shadow,
        light.mirrored,
        None
        if light.reaches == "everything"
        else tuple(thing for thing in motion.shot.bodied if light.reached(thing)),
        light.slide if source == "spot" else "",
        light.falloff,
        present(light.span, motion.frames),
    )


def _aim(motion: Motion, at: str, light: Light, on: Floats) -> Floats:
    """Where a light looks (frames, 3): its aim, or the middle of the thing it follows."""
    if not isinstance(motion.shot.things.get(light.aim_at), Placed):
        return points_under(on, motion.vector(f"{at}/aim"))
    return middle_of(motion, light.aim_at)


def sun_course(motion: Motion) -> Floats:
    """Elevation and azimuth (frames, 2) of the sun of a sky, in degrees."""
    s = motion.shot.surroundings
    if s.sky_by == "place and time":
        return np.column_stack(
            sun_angles(s.latitude, s.longitude, float(s.day), motion.value("/surroundings/hour"))
        )
    return np.column_stack(
        [motion.value("/surroundings/sun_elevation"), motion.value("/surroundings/sun_azimuth")]
    )


def sky_sun(motion: Motion, sun: Floats) -> BakedLight:
    """The sun of the sky, as a light; it turns, brightens and is tinted with the surroundings."""
    count = len(sun)
    turned = np.radians(motion.value("/surroundings/rotation"))
    x, y, z = sun_direction(sun[:, 0], sun[:, 1]).T
    away = np.stack(
        [x * np.cos(turned) + z * np.sin(turned), y, z * np.cos(turned) - x * np.sin(turned)], axis=1
    )
    tilted = np.radians(motion.value("/surroundings/tilt"))
    x, y, z = away.T
    away = np.stack(
        [x, y * np.cos(tilted) - z * np.sin(tilted), y * np.sin(tilted) + z * np.cos(tilted)], axis=1
    )
    size = np.full((count, 2), SUN_BREADTH)
    strength = motion.value("/surroundings/strength")
    level = sun_level(sun[:, 0], motion.shot.surroundings.haze) * motion.vector("/surroundings/tint", "rgb")
    position, aim = away * 20, np.zeros((count, 3))
    shadow = np.tile([0.0, 0.0, 0.0, 1.0], (count, 1))
    return BakedLight(
        "sun",
        source_matrix("sun", position, aim, size),
        source_radiance("sun", strength, level, size),
        position,
        aim,
        size,
        None,
        shadow,
        True,
        None,
        "",
        "inverse square",
        np.ones(count, bool),
    )
