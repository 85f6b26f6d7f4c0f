"""Where the letters of a thing stand in it, over many frames at once: matrices apart from geometry."""

from __future__ import annotations

import re

import numpy as np
from numpy.typing import NDArray

from ..document import Bodied, Lettered, Mark, Pose, Title, resolve
from ..lettering.placing import Course, Poses, along, posed
from ..lettering.spacing import Spacing, spaced
from .pieces import Pieces
from .set_motion import moved_by_sets
from .values import Values

Floats = NDArray[np.float64]

# Below a thing: what only moves letters, and what moves them along their line.
_POSES = re.compile(
    r"/(setting/)?poses/|/sets/\d+/(move/|turn/|scale$|stretch$|depth$|shear$|scatter/|spin/)"
)
_SPACING = re.compile(r"/setting/(tracking$|leading$|gaps/)|/ranges/\d+/(tracking|lift)$|/path/")


# Sections of what moves letters before their sets do.
_RESTING = ("/setting", "/ranges", "/path", "/poses")


class Resting:
    """A thing's own numbers, for one frame."""

    def __init__(self, thing: Bodied) -> None:
        self.thing = thing

    def value(self, pointer: str) -> Floats:
        return np.array([float(resolve(self.thing, pointer))])

    def value_at(self, pointer: str, delays: Floats) -> Floats:
        return np.full((1, len(delays)), float(resolve(self.thing, pointer)))

    def keyed(self, pointer: str) -> bool:
        return False


def bends_with_pose(thing: Bodied) -> bool:
    """Whether where letters stand is part of their shape, because something bends them all together."""
    return isinstance(thing, Lettered) and bool(thing.deformations)


def only_poses(thing: Bodied, pointer: str) -> bool:
    """Whether a number of a thing only moves its letters, and leaves their bodies as they are."""
    if bends_with_pose(thing) or not isinstance(thing, Lettered):
        return False
    # Letters that are joined where they touch have another outline when they stand elsewhere.
    return bool(_POSES.search(pointer)) or (not thing.welds and bool(_SPACING.match(pointer)))


def moves_letters(pointer: str) -> bool:
    """Whether a number of a thing may move its letters."""
    return bool(_POSES.search(pointer) or _SPACING.match(pointer))


def faces_camera(thing: Bodied) -> bool:
    """Whether letters turn towards the camera."""
    return (
        isinstance(thing, Title)
        and thing.path.kind != "none"
        and thing.path.stance == "bulging"
        and thing.path.facing == "camera"
    )


def letter_poses(
    thing: Bodied, pieces: Pieces, values: Values, frames: int, camera: Floats | None = None
) -> Floats:
    """Maps (frames, pieces, 3, 4) of the pieces of a thing in its space.

    ``camera`` (frames, 3) is where the camera stands in that space, for letters that face it.
    """
    listed = pieces.listed
    # Letters whose sets alone move them rest in one place.
    rows = frames if camera is not None or any(map(values.keyed, _RESTING)) else 1
    letter = np.array([piece.letter for piece in listed], np.int64)
    if isinstance(thing, Title) and pieces.layout is not None and pieces.centres is not None:
        layout = pieces.layout
        places, middle = spaced(layout.shaped, _spacing(thing, pieces, values, rows))
        whole = along(places, middle, layout.line, _course(thing, values, rows), camera)
        numbers = {"line": layout.line, "word": layout.word, "letter": layout.sources}
        poses = _kinds(thing.setting.poses, "/setting/poses", values, rows)
    elif isinstance(thing, Mark) and pieces.centres is not None:
        index = np.arange(len(pieces.centres))
        whole = np.tile(np.eye(4), (rows, len(index), 1, 1))
        numbers = {"letter": index, "word": index, "line": 0 * index}
        poses = _kinds(thing.poses, "/poses", values, rows)
    else:
        return np.tile(np.eye(4)[:3], (frames, max(1, len(listed)), 1, 1))
    resting = posed(whole, pieces.centres, poses, numbers)[:, letter]
    return moved_by_sets(resting, thing, pieces, values, frames)


def _wide(value: Floats, frames: int) -> Floats:
    return np.broadcast_to(value, (frames,))


def _spacing(title: Title, pieces: Pieces, values: Values, frames: int) -> Spacing:
    layout = pieces.layout
    assert layout is not None
    setting, section = title.setting, layout.section
    more, lift = np.zeros((frames, len(title.ranges) + 1)), np.zeros((frames, len(title.ranges) + 1))
    for index in range(len(title.ranges)):
        more[:, index] = values.value(f"/ranges/{index}/tracking")
        lift[:, index] = values.value(f"/ranges/{index}/lift")
    gap = np.zeros((frames, len(section)))
    for name in setting.gaps:
        gap[:, layout.sources == int(name)] = (
            _wide(values.value(f"/setting/gaps/{name}/value"), frames)[:, None] / 1000
        )
    tracking = _wide(values.value("/setting/tracking"), frames)[:, None] + more[:, section]
    leading = _wide(values.value("/setting/leading"), frames) * setting.size
    return Spacing(
        tracking / 1000, gap, lift[:, section] * setting.size, leading, setting.align, setting.optical
    )


def _course(title: Title, values: Values, frames: int) -> Course:
    radius, sweep, offset = (
        _wide(values.value(f"/path/{name}"), frames) for name in ("radius", "sweep", "offset")
    )
    return Course(title.path, radius, sweep, offset)


POSE_VALUES = ("move/x", "move/y", "move/z", "turn/x", "turn/y", "turn/z", "scale", "stretch", "shear")


def _kinds(poses: dict[str, Pose], at: str, values: Values, frames: int) -> dict[str, Poses]:
    """Poses of lines, words and letters as arrays, each kind in the order of its numbers."""
    found: dict[str, list[tuple[int, str]]] = {}
    for name in poses:
        kind, _, number = name.partition("-")
        found.setdefault(kind, []).append((int(number), name))
    made = {}
    for kind, named in found.items():
        named.sort()
        table = np.array([_row(poses[name]) for _, name in named])
        over = np.broadcast_to(table, (frames, *table.shape)).copy()
        for index, (_, name) in enumerate(named):
            if not values.keyed(f"{at}/{name}"):
                continue
            for column, value in enumerate(POSE_VALUES):
                if values.keyed(f"{at}/{name}/{value}"):
                    over[:, index, column] = values.value(f"{at}/{name}/{value}")
        numbers = np.array([number for number, _ in named], np.int64)
        made[kind] = Poses(numbers, over[..., 0:3], over[..., 3:6], over[..., 6], over[..., 7], over[..., 8])
    return made


def _row(pose: Pose) -> list[float]:
    return [
        pose.move.x,
        pose.move.y,
        pose.move.z,
        pose.turn.x,
        pose.turn.y,
        pose.turn.z,
        pose.scale,
        pose.stretch,
        pose.shear,
    ]
