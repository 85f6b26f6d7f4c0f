"""Edits that light words as the place in the plate is lit: where its sun stands, and how strong it is against
what is around."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...colour import LUMINANCE
from ...document import Colour, Light, Shot
from ...light import around_picture, kelvin_tint, sun_angles, sun_direction
from ...match import Contradicts, sun_from_shadows
from ..baking import bake
from ..frame import frame_state
from ..sight import sight

Floats = NDArray[np.float64]
Patch = list[dict[str, Any]]

SUN = "plate-sun"
# Shadows keep between these shares of the light: none of a clear day keeps less, and what keeps more is none.
DARKEST, PALEST = 0.02, 0.97
# A sun lower than this (sine of its elevation) lights no ground.
LOWEST = 0.02


def with_sun(shot: Shot, frame: float, picks: Floats) -> tuple[Patch, float]:
    """The sun stands where shadows in the plate say: picks (n, 3, 2) of feet, tips and shadows' tips. The
    patch, and how far they differ in degrees. Other lights than the sun go off: the place is lit by it and by
    what is around."""
    seen = sight(shot, frame)
    ways = seen.ways(picks.reshape(-1, 2)).reshape(-1, 3, 3)
    towards, spread = sun_from_shadows(seen.eye, ways[:, 0], ways[:, 1], ways[:, 2])
    return _lit_from(shot, towards), spread


def with_sun_at(
    shot: Shot, frame: float, place: tuple[float, float], day: int, hour: float, bearing: float
) -> tuple[Patch, float, float]:
    """The sun stands where it is at a ``place`` (latitude, longitude) at an hour UTC of a day of the year,
    while the camera looks towards a ``bearing``, degrees clockwise from north. The patch, elevation and
    azimuth; where the sun is down, Contradicts."""
    elevation, azimuth = (float(v) for v in sun_angles(*place, float(day), np.array(hour)))
    if elevation <= 0:
        raise Contradicts(
            f"the sun is {-elevation:.0f}° below the horizon there and then; hours are universal time (UTC)"
        )
    ahead = sight(shot, frame).axes[2]
    # What the camera looks at, as if north were -z.
    heading = np.degrees(np.arctan2(ahead[0], -ahead[2]))
    towards = sun_direction(np.array([elevation]), np.array([azimuth - bearing + heading]))[0]
    return _lit_from(shot, towards), elevation, azimuth


def _lit_from(shot: Shot, towards: Floats) -> Patch:
    """The first sun stands in a direction (3,), or a new one does; other lights go off."""
    position = {axis: round(float(v) * 10, 5) for axis, v in zip("xyz", towards, strict=True)}
    aim = {"x": 0.0, "y": 0.0, "z": 0.0}
    suns = [name for name, light in shot.lights.items() if light.source == "sun"]
    patch: Patch = [
        {"op": "replace", "path": f"/things/{name}/on", "value": False}
        for name, light in shot.lights.items()
        if light.on and name not in suns[:1]
    ]
    if suns:
        patch += [
            {"op": "replace", "path": f"/things/{suns[0]}/position", "value": position},
            {"op": "replace", "path": f"/things/{suns[0]}/aim", "value": aim},
            {"op": "replace", "path": f"/things/{suns[0]}/on", "value": True},
        ]
    else:
        sun = Light(name="Sun of the plate", source="sun").model_dump(mode="json")
        patch.append(
            {"op": "add", "path": f"/things/{SUN}", "value": {**sun, "position": position, "aim": aim}}
        )
    return patch


def with_shadow(shot: Shot, frame: float, left: Floats) -> Patch:
    """Shadows are as dark as measured: ``left`` (3,) of the light is left in them, which is what comes from
    around.

    The sun becomes as strong against that as it then must be: where around is a picture of the place, channel
    by channel, so that words get its colour; otherwise on the whole. What shadows differ from that is their
    own colour and density.
    """
    kept = np.clip(left, DARKEST, PALEST)
    patch: Patch = []
    lit = _lit_ground(shot, frame)
    mean = float(kept @ LUMINANCE)
    if lit is not None and lit.around.max() > 0:
        at, tint = f"/things/{lit.name}", lit.tint
        if shot.surroundings.source == "picture":
            sent = lit.around * (1 - kept) / kept / lit.slope
            tint = sent / sent.max()
            patch += [
                {"op": "replace", "path": f"{at}/colour_by", "value": "tint"},
                {"op": "replace", "path": f"{at}/tint", "value": _rgb(tint)},
            ]
        else:
            wanted = float(lit.around @ LUMINANCE) * (1 - mean) / mean / lit.slope
            sent = tint * wanted / max(float(tint @ LUMINANCE), 1e-4)
        level = float(sent.max() / max(tint.max(), 1e-4))
        stops = round(float(np.clip(np.log2(max(level, 1e-4)), -16, 12)), 3)
        patch.append({"op": "replace", "path": f"{at}/intensity", "value": stops})
        mean = _kept_by(lit.around, sent * lit.slope)
    tone = np.clip((1 - left) / (1 - mean), 0, 2)
    density = float(min(tone.max(), 2.0))
    return [
        *patch,
        {"op": "replace", "path": "/plate/shadow_density", "value": round(density, 4)},
        {"op": "replace", "path": "/plate/shadow_colour", "value": _rgb(1 - tone / max(density, 1e-6))},
    ]


def with_surroundings(shot: Shot, picture: str) -> Patch:
    """A ``picture`` of the place is what is around. Where shadows were measured they stay as they are: the
    sun is weighed against it anew."""
    values: dict[str, Any] = {
        "source": "picture",
        "picture": picture,
        "rotation": 0.0,
        "tilt": 0.0,
        "strength": 0.0,
        "blur": 0.0,
    }
    patch: Patch = [
        {"op": "replace", "path": f"/surroundings/{name}", "value": value}
        for name, value in values.items()
        if getattr(shot.surroundings, name) != value
    ]
    measured = shot.plate.shadow_density != 1 or _array(shot.plate.shadow_colour).any()
    lit = _lit_ground(shot, 0.0)
    if not patch or not measured or lit is None:
        return patch
    tone = shot.plate.shadow_density * (1 - _array(shot.plate.shadow_colour))
    left = 1 - (1 - _kept_by(lit.around, lit.sent * lit.slope)) * tone
    there = shot.model_copy(update={"surroundings": shot.surroundings.model_copy(update=values)})
    return patch + with_shadow(there, 0.0, np.clip(left, 0, 1))


class _LitGround(NamedTuple):
    """The sun called ``name``, what of its light (3,) would reach a card that faces it, the sine of its
    elevation, and what is around brings to the ground (3,)."""

    name: str
    tint: Floats
    sent: Floats
    slope: float
    around: Floats


def _lit_ground(shot: Shot, frame: float) -> _LitGround | None:
    """What lights the ground at a frame; None where no sun measured in stops does."""
    suns = [name for name, light in shot.lit.items() if light.source == "sun"]
    if not suns or shot.lit[suns[0]].measured_in != "stops":
        return None
    name, light = suns[0], shot.lit[suns[0]]
    state = frame_state(shot, bake(shot, np.array([float(frame)])), 0)
    towards = state.lights[name].matrix[:3, 3]
    slope = float(towards[1] / np.linalg.norm(towards))
    if slope <= LOWEST:
        return None
    tint = kelvin_tint(np.array([light.kelvin]))[0] if light.colour_by == "kelvin" else _array(light.tint)
    return _LitGround(name, tint, tint * 2.0**light.intensity, slope, _ground_light(state))


def _kept_by(around: Floats, sun: Floats) -> float:
    """Share of the ground's light that is left where the sun does not reach."""
    rest = float(around @ LUMINANCE)
    return float(np.clip(rest / max(rest + float(sun @ LUMINANCE), 1e-9), DARKEST, PALEST))


def _ground_light(state: Any) -> Floats:
    """What surroundings bring to the ground (3,), where the sun at 0 stops, straight above, brings 1."""
    picture = around_picture(state.around)
    rows = len(picture)
    up = np.cos((np.arange(rows) + 0.5) / rows * np.pi)
    weight = np.clip(up, 0, None) * np.sin((np.arange(rows) + 0.5) / rows * np.pi)
    # E / π of an even sky of 1 is 1.
    light: Floats = picture.mean(axis=1).astype(np.float64).T @ weight / weight.sum()
    return light * float(state.surroundings_strength)


def _array(colour: Colour) -> Floats:
    return np.array([colour.r, colour.g, colour.b])


def _rgb(colour: Floats) -> dict[str, float]:
    return {c: round(float(np.clip(v, 0, 1)), 4) for c, v in zip("rgb", colour, strict=True)}
