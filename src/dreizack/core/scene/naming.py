"""Names of frames by what can change them, for many frames at once."""

from __future__ import annotations

import hashlib
import zlib

import numpy as np
from numpy.typing import NDArray

from ..document import Lettered, Pivot, Shot, lost_files, run_of, seen_through, shot_at, with_copies
from ..motion import Motion, present
from .baking.forms import OverFrames
from .form import Form
from .set_motion import set_delays
from .shutter import MOMENTS
from .told import changes_words, told_words

# Goes up whenever the renderer makes another picture of the same state: everything that is kept is named by
# it.
RENDER_VERSION = 15
# Keyed values that are in memory together.
MOST_VALUES = 4_000_000


def _after_tracing(pointer: str) -> bool:
    """Whether a value does nothing to what is traced."""
    # Of cameras the one that is looked through counts; it is the first one then.
    return pointer.startswith(("/optics/", "/sounds/", "/cameras/"))


def _plays(document: str) -> bool:
    """Whether there is a video in a document, so that no two frames are known to be alike."""
    return any(f'"{field}":"video"' in document for field in ("fill", "source", "kind"))


def frame_names(shot: Shot, frames: NDArray[np.float64]) -> list[str]:
    """A name for each of ``frames`` (n,): equal exactly where the document and all keyed values, while the
    shutter is open, are equal. A key moved elsewhere leaves the names of frames it does not reach alone.
    """
    if shot.through and not shot.changes:
        shot = seen_through(shot, shot.through)
    if shot.changes:
        made = [""] * len(frames)
        runs = np.array([run_of(shot, float(frame))[0] for frame in frames.tolist()])
        for start in np.unique(runs).tolist():
            here = np.flatnonzero(runs == start)
            for index, name in zip(
                here.tolist(), frame_names(shot_at(shot, start), frames[here]), strict=True
            ):
                made[index] = name
        return made
    shot = with_copies(shot)
    fixed = shot.model_dump_json(
        exclude={
            "name": True,
            "camera": {"name"},
            "cameras": True,
            "channels": True,
            "sounds": True,
            "markers": True,
            "optics": True,
            "format": {"frames"},
        }
    )
    # What is missing is not seen: once it is there again, the picture is another one.
    fixed += "".join(sorted(one.file for one in lost_files(shot)))
    span = shot.camera.shutter_angle / 360
    offsets = span * (np.arange(MOMENTS + 1) / MOMENTS - 0.5) if span > 0 else np.zeros(1)
    whole = (
        _plays(fixed)
        or bool(shot.plate.clip or shot.plate.solve)
        or any(thing.runs for thing in shot.bodied.values())
    )
    late = _late(shot)
    # Many keyed values over many frames are looked at piece by piece.
    columns = len(shot.moving) + sum(len(delays) for delays in late.values())
    at_once = max(1, MOST_VALUES // (len(offsets) * max(1, columns)))
    return [
        name
        for start in range(0, len(frames), at_once)
        for name in _names(shot, fixed, frames[start : start + at_once], offsets, whole, late)
    ]


def _late(shot: Shot) -> dict[str, NDArray[np.float64]]:
    """Of keyed values that letters read at times of their own: by how many frames later."""
    found = {}
    for name, thing in shot.bodied.items():
        for number, letters in enumerate(thing.sets if isinstance(thing, Lettered) else ()):
            at = f"/things/{name}/sets/{number}/"
            pointers = [pointer for pointer in shot.moving if pointer.startswith(at)]
            if letters.timing.order == "together" or not pointers:
                continue
            delays = np.unique(set_delays(letters, Form(thing).pieces)[1])
            found.update({pointer: delays[delays > 0] for pointer in pointers if (delays > 0).any()})
    return found


def _names(
    shot: Shot,
    fixed: str,
    frames: NDArray[np.float64],
    offsets: NDArray[np.float64],
    plays: bool,
    late: dict[str, NDArray[np.float64]],
) -> list[str]:
    motion = Motion(shot, np.maximum(frames[:, None] + offsets[None], 0))
    pointers = sorted(pointer for pointer in motion.channels if not _after_tracing(pointer))
    values = (
        np.stack([motion.channels[pointer] for pointer in pointers], axis=-1)
        if pointers
        else np.zeros((len(frames), 1, 0))
    )
    # Frames whose whole open time lies within holds have the same values; signs of zero must not tell them
    # apart.
    rows = (np.round(values, 9) + 0.0).reshape(len(frames), -1)
    for pointer, delays in late.items():
        # Letters that begin later show what the value was before.
        before = np.round(motion.value_at(pointer, motion.frames[..., None] - delays), 9) + 0.0
        rows = np.column_stack([rows, before.reshape(len(frames), -1)])
    spans = [thing.span for thing in shot.things.values() if not isinstance(thing, Pivot)]
    rows = np.column_stack([rows, *(present(span, frames) for span in spans if not span.whole)])
    for name, title in shot.titles.items():
        if changes_words(title):
            shown, index = told_words(
                title, OverFrames(Motion(shot, frames), f"/things/{name}", title), frames, shot.format
            )
            named = np.array([zlib.crc32(words.encode()) for words in shown], np.float64)
            rows = np.column_stack([rows, named[index]])
    if plays:
        rows = np.column_stack([rows, frames])
    stem = hashlib.blake2b(f"{RENDER_VERSION}/{fixed}/{pointers}".encode(), digest_size=16).digest()
    return [hashlib.blake2b(stem + row.tobytes(), digest_size=16).hexdigest() for row in rows]
