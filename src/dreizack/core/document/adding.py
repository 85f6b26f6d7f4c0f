"""New things, and copies of those that there are: where they stand, how large they are, what moves them."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from .by_pointer import BY_POINTER
from .floor import Floor
from .light import Light
from .looks import scaled_lengths
from .pointer import escaped
from .shot import Shot
from .title import Title

Patch = list[dict[str, Any]]
# Cap height of a second title, and how far below the lowest one, or before all, it stands, in metres.
SECOND, BELOW, BEFORE = 0.25, 0.4, 0.5
# How far away a floor has gone over into the backdrop, in metres.
FADES = 12.0
# How far to the right a copy stands, in metres.
ASIDE = 0.3


def with_new(shot: Shot, kind: str) -> tuple[str, Patch]:
    """A new thing of a kind where one would want it: its name, and the patch that adds it.

    KeyError where things of this kind do not come from nothing.
    """
    value = {"kind": kind, "name": kind.capitalize()} | NEW[kind](shot)
    name = free_name(shot, kind)
    return name, [{"op": "add", "path": f"/things/{name}", "value": value}]


def free_name(shot: Shot, stem: str) -> str:
    """A name that nothing in the shot has: ``stem``, or that with a number.

    >>> free_name(Shot(), "title")
    'title'
    """
    if stem not in shot.things:
        return stem
    return next(name for n in range(2, 1000) if (name := f"{stem}-{n}") not in shot.things)


def _standing(x: float, y: float, z: float) -> dict[str, Any]:
    return {"place": {"position": {"x": x, "y": round(y, 3), "z": z}}}


def _title(shot: Shot) -> dict[str, Any]:
    """Below those that are there, or on the floor before them; smaller, its body and edges as much."""
    if not shot.titles:
        return {"words": "WORDS"}
    places = [title.place.position for title in shot.titles.values()]
    height, depth = min(place.y for place in places) - BELOW, 0.0
    floors = [thing.place.position.y for thing in shot.things.values() if isinstance(thing, Floor)]
    over = [floor for floor in floors if height < floor <= height + BELOW]
    if over:
        height, depth = max(over), max(place.z for place in places) + BEFORE
    plain = Title()
    share = SECOND / plain.setting.size
    return {
        "words": "WORDS",
        "setting": {"size": SECOND},
        "body": scaled_lengths(plain.body, share),
        **_standing(0, height, depth),
    }


def _floor(shot: Shot) -> dict[str, Any]:
    """Under the lowest title; dark, and gone over into the backdrop before there is a hard horizon."""
    lowest = min([0.0, *(title.place.position.y for title in shot.titles.values())])
    dark = {"base_colour": {"r": 0.06, "g": 0.06, "b": 0.062}, "metallic": 0, "roughness": 0.55}
    return {"horizon": FADES, "finish": dark, **_standing(0, lowest, 0)}


def _middle(shot: Shot) -> tuple[str, dict[str, Any]]:
    """The first title, and about the middle of its letters."""
    if not shot.titles:
        return "", _standing(0, 0.25, 0)
    name, title = next(iter(shot.titles.items()))
    at = title.place.position
    return name, _standing(at.x, at.y + title.setting.size / 2, at.z)


def _swarm(shot: Shot) -> dict[str, Any]:
    around, place = _middle(shot)
    return {"around": around, **place}


NEW: dict[str, Callable[[Shot], dict[str, Any]]] = {
    "title": _title,
    "floor": _floor,
    "sheet": lambda _: _standing(0, 0.25, -0.4),
    "strand": lambda shot: _middle(shot)[1],
    "swarm": _swarm,
    "light": lambda _: {"position": {"x": 0, "y": 2.4, "z": 2.2}},
    "pivot": lambda _: {},
}


def with_copy(shot: Shot, name: str, mirrored: bool = False) -> tuple[str, Patch]:
    """A copy of a thing with all that moves it, a little aside; of a light, ``mirrored``, on the other side
    of what it aims at. KeyError where there is no such thing, or nothing to mirror it about."""
    thing = shot.things[name].model_copy(deep=True)
    if mirrored and not isinstance(thing, Light):
        raise KeyError(name)
    thing.name = f"{thing.name[:110]} {'mirrored' if mirrored else 'copy'}"
    position = thing.position if isinstance(thing, Light) else thing.place.position
    middle = 2 * thing.aim.x if mirrored and isinstance(thing, Light) else 0.0
    position.x = middle - position.x if mirrored else position.x + ASIDE
    made = free_name(shot, thing.kind)
    patch: Patch = [{"op": "add", "path": f"/things/{made}", "value": thing.model_dump(mode="json")}]
    along = "/position/x" if isinstance(thing, Light) else "/place/position/x"
    for part in BY_POINTER:
        for pointer, moves in getattr(shot, part).items():
            below = pointer.removeprefix(f"/things/{name}")
            if below == pointer or not below.startswith("/"):
                continue
            value = moves.model_dump(mode="json")
            if part == "channels" and below == along:
                for key in value["keys"]:
                    key["value"] = middle - key["value"] if mirrored else key["value"] + ASIDE
            path = f"/{part}/{escaped(f'/things/{made}{below}')}"
            patch.append({"op": "add", "path": path, "value": value})
    return made, patch
