"""Edits that remove things and items of lists, with all that leads to them."""

from __future__ import annotations

import re
from typing import Any

from .by_pointer import BY_POINTER, without_movers
from .light import Light
from .pivot import Pivot
from .pointer import escaped, resolve
from .shot import Shot, Thing, hanging

Patch = list[dict[str, Any]]


def without_thing(shot: Shot, name: str) -> Patch:
    """The patch that removes a thing, what moves it, couplings that follow it, and lets go what hangs on it.

    KeyError where there is no such thing.
    """
    at = f"/things/{escaped(name)}"
    resolve(shot, at)
    patch = _without_driving(shot, f"/things/{name}/")
    for other, thing in shot.things.items():
        if other != name and hanging(thing) == name:
            patch.append(
                {"op": "replace", "path": f"/things/{escaped(other)}/{_held_by(thing)}", "value": ""}
            )
    if shot.camera.hangs_on == name:
        patch.append({"op": "replace", "path": "/camera/hangs_on", "value": ""})
    patch += [
        {"op": "replace", "path": f"/cameras/{other}/hangs_on", "value": ""}
        for other, camera in shot.cameras.items()
        if camera.hangs_on == name
    ]
    return [*patch, {"op": "remove", "path": at}]


def _held_by(thing: Thing) -> str:
    if isinstance(thing, Pivot) and thing.rides:
        return "rides"
    return "hangs_on" if isinstance(thing, Light) else "place/hangs_on"


def without_sound(shot: Shot, name: str) -> Patch:
    """The patch that removes a sound, what moves its values, and couplings that follow what is heard in it.

    KeyError where there is no such sound.
    """
    at = f"/sounds/{escaped(name)}"
    resolve(shot, at)
    return [*_without_driving(shot, f"/sounds/{name}/"), {"op": "remove", "path": at}]


def without_item(shot: Shot, at: str, index: int) -> Patch:
    """The patch that removes an item of the list at a pointer; what moves later items goes down with them.

    KeyError where there is no such item.
    """
    resolve(shot, f"{at}/{index}")
    patch = _without_driving(shot, f"{at}/{index}/")
    later = re.compile(re.escape(at) + r"/(\d+)(/.*)")
    gone: Patch = []
    back: Patch = []
    for part in BY_POINTER:
        for pointer, value in getattr(shot, part).items():
            found = later.fullmatch(pointer)
            if not found or int(found[1]) <= index:
                continue
            gone.append({"op": "remove", "path": f"/{part}/{escaped(pointer)}"})
            down = f"{at}/{int(found[1]) - 1}{found[2]}"
            back.append(
                {"op": "add", "path": f"/{part}/{escaped(down)}", "value": value.model_dump(mode="json")}
            )
    # First all away, then all back: one may move onto the place of another.
    return [*patch, *gone, {"op": "remove", "path": f"{at}/{index}"}, *back]


def _without_driving(shot: Shot, below: str) -> Patch:
    """Removes what moves values below a pointer, and couplings that follow one of those."""
    following = [
        {"op": "remove", "path": f"/couplings/{escaped(pointer)}"}
        for pointer, coupling in shot.couplings.items()
        if not pointer.startswith(below) and any(source.startswith(below) for source in coupling.sources)
    ]
    return [*without_movers(shot, below), *following]
