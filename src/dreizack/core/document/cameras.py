"""Several cameras in a shot: which one is looked through, and editing any as if there were no other."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from .by_pointer import BY_POINTER, without_movers
from .operations import replaced
from .pointer import escaped

if TYPE_CHECKING:
    from .shot import Shot

Patch = list[dict[str, Any]]
# What the first camera is called in requests; others are called "camera:" and their name.
FIRST = "camera"


def camera_pointer(name: str) -> str:
    """The pointer of a camera; "" is the first one."""
    return f"/cameras/{name}" if name else "/camera"


def camera_named(thing: str) -> str | None:
    """The name of the camera that a request means; None where it means something else.

    >>> camera_named("camera"), camera_named("camera:wide"), camera_named("title")
    ('', 'wide', None)
    """
    if thing == FIRST:
        return ""
    return thing.removeprefix("camera:") if thing.startswith("camera:") else None


def seen_through(shot: Shot, name: str) -> Shot:
    """The shot with the camera of that name as its first and only one, with all that moves it; what follows
    the camera follows this one. KeyError where there is no such camera."""
    made: Any = shot.model_copy()
    made.__dict__["through"] = ""
    if not name:
        return made  # type: ignore[no-any-return]
    made.__dict__["camera"] = shot.cameras[name]
    own = f"{camera_pointer(name)}/"
    for part in BY_POINTER:
        moves = getattr(shot, part)
        made.__dict__[part] = {
            **{pointer: value for pointer, value in moves.items() if not pointer.startswith("/camera/")},
            **{
                f"/camera/{pointer.removeprefix(own)}": value
                for pointer, value in moves.items()
                if pointer.startswith(own)
            },
        }
    return made  # type: ignore[no-any-return]


def for_camera(patch: Patch, name: str) -> Patch:
    """A patch made for the first camera, for another one.

    >>> for_camera([{"op": "remove", "path": "/channels/~1camera~1roll"}], "wide")
    [{'op': 'remove', 'path': '/channels/~1cameras~1wide~1roll'}]
    """
    if not name:
        return patch
    # As part of the document, and as the name of what moves it.
    plain = (re.compile(r"^/camera(?=/|$)"), camera_pointer(name))
    moves = (re.compile(rf"^(/(?:{'|'.join(BY_POINTER)})/)~1camera(?=~1)"), escaped(camera_pointer(name)))

    def moved(path: str) -> str:
        path = plain[0].sub(plain[1], path)
        return moves[0].sub(lambda found: found[1] + moves[1], path)

    return [
        operation | {key: moved(operation[key]) for key in ("path", "from") if key in operation}
        for operation in patch
    ]


def edited_as(shot: Shot, thing: str, make: Callable[[Shot, str], Patch]) -> Patch:
    """The patch that ``make`` makes of a shot and the name of a thing, of any camera as of the first one."""
    name = camera_named(thing)
    if not name:
        return make(shot, thing)
    return for_camera(make(seen_through(shot, name), FIRST), name)


def with_camera(shot: Shot, like: str) -> tuple[str, Patch]:
    """A further camera like another one, with all that moves it: its name, and the patch that adds it."""
    source = seen_through(shot, like)
    number = next(n for n in range(2, 100) if f"camera-{n}" not in shot.cameras)
    name = f"camera-{number}"
    made = source.camera.model_copy(update={"name": f"Camera {number}"})
    patch: Patch = [{"op": "add", "path": f"/cameras/{name}", "value": made.model_dump(mode="json")}]
    for part in BY_POINTER:
        patch += [
            {
                "op": "add",
                "path": f"/{part}/{escaped(camera_pointer(name) + pointer.removeprefix('/camera'))}",
                "value": value.model_dump(mode="json"),
            }
            for pointer, value in getattr(source, part).items()
            if pointer.startswith("/camera/")
        ]
    return name, patch


def without_camera(shot: Shot, name: str) -> Patch:
    """The patch that removes a further camera, what moves it, what follows it, and the cuts to it.

    KeyError where there is no such camera.
    """
    at = f"{camera_pointer(name)}/"
    if name not in shot.cameras:
        raise KeyError(name)
    patch = without_movers(shot, at)
    patch += [
        {"op": "remove", "path": f"/couplings/{escaped(pointer)}"}
        for pointer, coupling in shot.couplings.items()
        if not pointer.startswith(at) and any(source.startswith(at) for source in coupling.sources)
    ]
    cuts = shot.changes.get("/through")
    if cuts is not None:
        patch += _cut(shot, [key.model_dump(mode="json") for key in cuts.keys if key.value != name])
    elif shot.through == name:
        patch.append(replaced("/through", ""))
    return [*patch, {"op": "remove", "path": f"/cameras/{name}"}]


def cut_to(shot: Shot, name: str, frame: int) -> Patch:
    """The patch that looks through a camera from a frame on, up to the next cut; cuts that change nothing are
    taken away. KeyError where there is no such camera."""
    if name and name not in shot.cameras:
        raise KeyError(name)
    cuts = shot.changes.get("/through")
    keys = [key.model_dump(mode="json") for key in cuts.keys] if cuts is not None else []
    if not keys or keys[0]["frame"] > 0:
        # Before the first cut it is as from it on: the one before has to be said.
        before = keys[0]["value"] if keys else shot.through
        keys = [{"frame": 0, "value": before}, *keys]
    keys = sorted(
        [key for key in keys if key["frame"] != frame] + [{"frame": frame, "value": name}],
        key=lambda key: key["frame"],
    )
    return _cut(shot, keys)


def _cut(shot: Shot, keys: list[dict[str, Any]]) -> Patch:
    """The patch that puts these cuts, but those that change nothing, in place of the present ones."""
    keys = [key for n, key in enumerate(keys) if n == 0 or key["value"] != keys[n - 1]["value"]]
    path = f"/changes/{escaped('/through')}"
    if len(keys) > 1:
        return [{"op": "add", "path": path, "value": {"keys": keys}}]
    patch: Patch = [{"op": "remove", "path": path}] if "/through" in shot.changes else []
    through = keys[0]["value"] if keys else ""
    return [*patch, *([] if shot.through == through else [replaced("/through", through)])]
