"""What can be said of a shot before it is rendered: from its arrays alone."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from ..document import Shot, Title, lost_files, lost_sounds
from ..scene import Baked, BodyStore, Sight, bake, body_points, frame_state
from ..scene.baking import plate_bending
from ..scene.form import Form
from .guides import TITLE_SAFE

Floats = NDArray[np.float64]

# Words a minute that are read with ease on a screen, and seconds until one begins to read.
PACE, BEGINS = 180.0, 0.4
# So much of width and height words keep to.
SAFE = TITLE_SAFE
# Watched from so many heights of the picture (ITU-R BT.500-14), letters are read from so many minutes of arc
# on (ISO 9241-303, 5.5.4: 16 at least).
DISTANCE, LEAST_ARC = 3.0, 16.0
# Frames of a title that are looked at.
LOOKS = 9


@dataclass(frozen=True)
class Finding:
    """Something to look at: of which ``kind``, how much it matters, what and where (a frame), in words."""

    kind: Literal[
        "letters",
        "reading time",
        "safe area",
        "size",
        "edges",
        "unseen",
        "contrast",
        "flashes",
        "steps",
        "sound",
        "footage",
        "files",
    ]
    matters: Literal["fault", "warning"]
    thing: str
    frame: int
    says: str


def checked(shot: Shot, first: int = 0, last: int | None = None) -> list[Finding]:
    """Findings about the files and the titles of a shot, of what is shown of it (frames ``first`` to
    ``last``)."""
    last = shot.format.frames - 1 if last is None else min(last, shot.format.frames - 1)
    bodies = BodyStore()
    lost = [*lost_files(shot), *lost_sounds(shot.sounds)]
    found = [Finding("files", "fault", one.thing, first, one.says) for one in lost]
    for name, title in shot.titles.items():
        if not title.visibility.camera:
            continue
        start, end = _there(title, first, last)
        if end <= start:
            continue
        frames = np.unique(np.rint(np.linspace(start, end - 1, LOOKS)))
        baked = bake(shot, frames)
        found += _seen(shot, name, title, baked, bodies, frames, end - start)
    return found


def _there(title: Title, first: int, last: int) -> tuple[int, int]:
    """The frames a title is there: the first, and the first after."""
    if title.span.whole:
        return first, last + 1
    return max(first, title.span.start), min(last + 1, title.span.end)


def _letters(name: str, form: Form, frame: int) -> list[Finding]:
    if not form.pieces.missing:
        return []
    absent = " ".join(form.pieces.missing[:20])
    return [Finding("letters", "fault", name, frame, f"no typeface has {absent}; set other words")]


def _seen(
    shot: Shot,
    name: str,
    title: Title,
    baked: Baked,
    bodies: BodyStore,
    frames: Floats,
    lasts: int,
) -> list[Finding]:
    body = baked.titles.get(name)
    if body is None:
        return []
    found = _letters(name, body.forms[0], int(frames[0]))
    rate = shot.format.rate.per_second
    boxes = np.array([title_box(shot, baked, name, index, bodies) for index in range(len(frames))])
    whole = np.isfinite(boxes).all(axis=1)
    inside = whole & (np.abs(boxes).max(axis=1) <= 1)
    safe = whole & (np.abs(boxes).max(axis=1) <= SAFE)
    words = len(title.words.split())
    if not inside.any():
        says = "it is never wholly in the picture; frame it anew"
        return [*found, Finding("unseen", "fault", name, int(frames[0]), says)]
    first = int(frames[int(inside.argmax())])
    held = lasts / rate * float(inside.mean())
    needs = BEGINS + words / PACE * 60
    if words and held < needs:
        # Rounded apart: "2.7 s; read in 2.7 s" would say nothing.
        stands, read = math.floor(held * 10) / 10, math.ceil(needs * 10) / 10
        says = f"it stands for {stands:.1f} s; {words} words are read in {read:.1f} s"
        found.append(Finding("reading time", "warning", name, first, says))
    if not safe.any():
        worst = boxes[int(np.where(inside)[0][0])]
        side = ("left", "below", "right", "above")[int(np.argmax(np.abs(worst)))]
        says = f"it is never wholly within the safe {SAFE:.0%} ({side}); make it smaller or move it"
        found.append(Finding("safe area", "warning", name, first, says))
    largest = int(np.argmax(np.where(inside, boxes[:, 3] - boxes[:, 1], -1)))
    at = int(frames[largest])
    found += _size(name, title, float(boxes[largest, 3] - boxes[largest, 1]), at)
    limited = len(bodies.limited(bodies.letters(body.forms[int(body.form[largest])])))
    if limited:
        says = f"edges of {limited} letters are narrower than asked for: their strokes are too thin"
        found.append(Finding("edges", "warning", name, at, says))
    return found


def _size(name: str, title: Title, height: float, frame: int) -> list[Finding]:
    """Whether lines of a title ``height`` high, in halves of the picture, can be read from where one sits."""
    arc = float(np.degrees(np.arctan(height / 2 / (title.words.count("\n") + 1) / DISTANCE)) * 60)
    if arc >= LEAST_ARC:
        return []
    says = (
        f"its lines are {arc:.0f} minutes of arc high from {DISTANCE:g} picture heights away; "
        f"{LEAST_ARC:g} are read"
    )
    return [Finding("size", "warning", name, frame, says)]


def title_box(shot: Shot, baked: Baked, name: str, index: int, bodies: BodyStore) -> Floats:
    """Left, bottom, right and top of a title at a frame in halves of the picture (-1..1 is inside); NaN where
    it is not there, or partly behind the camera."""
    body = baked.titles[name]
    form = body.forms[int(body.form[index])]
    points, _ = body_points(form, body.matrix[index], body.poses_at(index), bodies)
    if not body.there[index] or not len(points):
        return np.full(4, np.nan)
    pose = frame_state(shot, baked, index).pose
    half = float(np.tan(np.radians(pose.angle / 2)))
    eye = Sight(np.asarray(pose.position), pose.axes, half, shot.format.aspect, plate_bending(shot))
    x, y = (eye.seen(points) * 2 - 1).T
    return np.array([x.min(), -y.max(), x.max(), -y.min()])
