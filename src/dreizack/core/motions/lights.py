"""Movements of light."""

from __future__ import annotations

import math

from ..document import Ease, Light, Shot
from ..document.operations import replaced
from .applying import Motion, Patch, drifting, keyed, number_of

LIGHT = ("light",)
SOFT = Ease()
EVEN = Ease(kind="linear")


def _sweep(shot: Shot, name: str, start: int, length: int) -> Patch:
    """Across what it aims at, on an arc, so that a highlight runs over the faces."""
    at = f"/things/{name}"
    position, aim = ([number_of(shot, f"{at}/{p}/{axis}") for axis in "xyz"] for p in ("position", "aim"))
    reach = max(1.0, math.hypot(position[0] - aim[0], position[2] - aim[2]))
    steps = [(k / 6, math.radians(-70 + 140 * k / 6)) for k in range(7)]
    smooth = Ease(kind="smooth")
    return [
        keyed(
            f"{at}/position/x",
            tuple((u, aim[0] + reach * math.sin(a)) for u, a in steps),
            start,
            length,
            smooth,
        ),
        keyed(
            f"{at}/position/z",
            tuple((u, aim[2] + reach * math.cos(a)) for u, a in steps),
            start,
            length,
            smooth,
        ),
    ]


def _behind(shot: Shot, name: str, start: int, length: int) -> Patch:
    """Straight across behind what it aims at; where there is neither haze nor rays yet, rays come from it."""
    at, light = f"/things/{name}", shot.things[name]
    assert isinstance(light, Light)
    position, aim = ([number_of(shot, f"{at}/{p}/{axis}") for axis in "xyz"] for p in ("position", "aim"))
    reach = max(1.0, math.dist(position, aim))
    patch: Patch = [
        keyed(f"{at}/position/x", ((0, aim[0] - reach), (1, aim[0] + reach)), start, length, EVEN),
        replaced(f"{at}/position/y", round(aim[1], 4)),
        replaced(f"{at}/position/z", round(aim[2] - 0.6 * reach, 4)),
    ]
    if shot.surroundings.air.density == 0 and shot.optics.rays.amount == 0:
        patch += [replaced("/optics/rays/amount", 1.5), replaced("/optics/rays/light", name)]
    return patch


def _day(shot: Shot, name: str, start: int, length: int) -> Patch:
    """From low on the left over noon to low on the right."""
    at, light = f"/things/{name}", shot.things[name]
    assert isinstance(light, Light)
    aim = [number_of(shot, f"{at}/aim/{axis}") for axis in "xyz"]
    steps = [(k / 8, math.radians(8 + 164 * k / 8)) for k in range(9)]
    smooth, far = Ease(kind="smooth"), 8.0
    patch: Patch = [] if light.source == "sun" else [replaced(f"{at}/source", "sun")]
    return [
        *patch,
        keyed(
            f"{at}/position/x",
            tuple((u, aim[0] - far * math.cos(a)) for u, a in steps),
            start,
            length,
            smooth,
        ),
        keyed(
            f"{at}/position/y",
            tuple((u, aim[1] + far * math.sin(a)) for u, a in steps),
            start,
            length,
            smooth,
        ),
        replaced(f"{at}/position/z", round(aim[2] + 3.5, 4)),
    ]


def _rise(shot: Shot, name: str, start: int, length: int) -> Patch:
    at, light = f"/things/{name}", shot.things[name]
    assert isinstance(light, Light)
    value = "intensity" if light.measured_in == "stops" else "amount"
    now = number_of(shot, f"{at}/{value}")
    return [
        keyed(f"{at}/{value}", ((0, -9.0 if value == "intensity" else 0.0), (1, now)), start, length, SOFT)
    ]


def _flicker(shot: Shot, name: str, start: int, length: int) -> Patch:
    at, light = f"/things/{name}", shot.things[name]
    assert isinstance(light, Light)
    if light.measured_in == "stops":
        return [drifting(f"{at}/intensity", amplitude=1.1, frequency=5, detail=3)]
    return [drifting(f"{at}/amount", amplitude=number_of(shot, f"{at}/amount") * 0.5, frequency=5, detail=3)]


def _beacon(shot: Shot, name: str, start: int, length: int) -> Patch:
    """A lighthouse: on for a moment, then dark, again and again."""
    at, light = f"/things/{name}", shot.things[name]
    assert isinstance(light, Light)
    value = "intensity" if light.measured_in == "stops" else "amount"
    now, dark = number_of(shot, f"{at}/{value}"), -9.0 if value == "intensity" else 0.0
    turns = 3
    course = [
        (u, v)
        for k in range(turns)
        for u, v in ((k / turns, dark), ((k + 0.3) / turns, now), ((k + 0.6) / turns, dark))
    ]
    return [keyed(f"{at}/{value}", tuple(course), start, length, SOFT)]


def _room(shot: Shot, _: str, start: int, length: int) -> Patch:
    at = "/surroundings/rotation"
    now = number_of(shot, at)
    return [keyed(at, ((0, now - 60), (1, now + 30)), start, length, EVEN)]


LIGHTS = (
    Motion(
        "sweep",
        "Sweep",
        "The light passes in front of the words; its highlight runs over the faces.",
        LIGHT,
        "hold",
        75,
        _sweep,
    ),
    Motion(
        "passing-behind",
        "Passing behind",
        "The light passes behind the words and shimmers through between the letters.",
        LIGHT,
        "hold",
        75,
        _behind,
    ),
    Motion(
        "through-a-day",
        "Through a day",
        "A sun that rises, stands high and sets, with its long shadow.",
        LIGHT,
        "hold",
        150,
        _day,
    ),
    Motion("comes-up", "Comes up", "From dark to what it is.", LIGHT, "arrival", 45, _rise),
    Motion("unsteady", "Unsteady", "It flickers like a bad contact or a flame.", LIGHT, "hold", 75, _flicker),
    Motion(
        "beacon",
        "Beacon",
        "It comes round again and again, as a lighthouse does.",
        LIGHT,
        "hold",
        100,
        _beacon,
    ),
    Motion(
        "room-turns",
        "The room turns",
        "Reflections wander over the letters.",
        ("surroundings",),
        "hold",
        100,
        _room,
    ),
)
