"""Movements of a thing as a whole."""

from __future__ import annotations

from ..document import Ease, Shot
from .applying import Motion, Patch, drifting, keyed, number_of

THINGS = ("title", "mark", "mesh", "sheet", "pivot")
LAND = Ease(kind="cubic-bezier", x1=0.16, y1=0.84, x2=0.3, y2=1)
EVEN = Ease(kind="linear")


def _settle(shot: Shot, name: str, start: int, length: int) -> Patch:
    at = f"/things/{name}/place"
    z, turn = number_of(shot, f"{at}/position/z"), number_of(shot, f"{at}/rotation/y")
    return [
        keyed(f"{at}/position/z", ((0, z + 4.5), (1, z)), start, length, LAND),
        keyed(f"{at}/rotation/y", ((0, turn - 38), (1, turn)), start, length, LAND),
    ]


def _slow_turn(shot: Shot, name: str, start: int, length: int) -> Patch:
    at = f"/things/{name}/place/rotation/y"
    turn = number_of(shot, at)
    return [keyed(at, ((0, turn - 8), (1, turn + 8)), start, length, EVEN)]


def _whole_turn(shot: Shot, name: str, start: int, length: int) -> Patch:
    at = f"/things/{name}/place/rotation/y"
    turn = number_of(shot, at)
    return [keyed(at, ((0, turn), (1, turn + 360)), start, length, Ease())]


def _bobbing(shot: Shot, name: str, start: int, length: int) -> Patch:
    at = f"/things/{name}/place"
    return [
        drifting(f"{at}/position/y", amplitude=0.06, frequency=0.3),
        drifting(f"{at}/rotation/z", amplitude=1.6, frequency=0.25),
        drifting(f"{at}/rotation/x", amplitude=1.2, frequency=0.2, seed=2),
    ]


WHOLE = (
    Motion(
        "settle", "Settle", "It comes from close up, turning, and settles.", THINGS, "arrival", 45, _settle
    ),
    Motion("slow-turn", "Slow turn", "It turns a little all the time.", THINGS, "hold", 100, _slow_turn),
    Motion("whole-turn", "Whole turn", "It turns once around.", THINGS, "hold", 60, _whole_turn),
    Motion("bobbing", "Bobbing", "It lies in the water like a buoy.", THINGS, "hold", 100, _bobbing),
)
