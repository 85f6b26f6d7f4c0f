"""Forms over time: each that differs from the others is built once."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...affine import homogeneous
from ...document import Bodied, Lettered, Mark, Mesh, Shot, Strand, Swarm, Title, resolve
from ...motion import Instants, Motion
from ..form import Form
from ..letter_axes import AxisShifts, axes_of_letters, letter_axes, shifts_at
from ..letter_edges import edges_of_letters, letter_edges
from ..letter_looks import letter_looks, looks_of_letters
from ..posing import Resting, bends_with_pose, faces_camera, letter_poses, moves_letters, only_poses
from ..told import changes_words, holds_widths, told_words
from .kept import kept
from .places import placed

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


def baked_forms(
    motion: Motion, at: str, thing: Bodied, matrix: Floats, camera: Floats, angle: Floats
) -> tuple[list[Form], Ints]:
    """Distinct forms and their index per frame; keyed values are rounded to a micrometre."""
    chords = _chords(motion.shot, thing, matrix, camera, angle) if thing.curved else 0.0
    cut = cut_by(motion, thing, matrix)
    seconds = np.round(motion.frames / motion.shot.format.rate.per_second, 6) if thing.runs else None
    keyed = [
        pointer
        for pointer in motion.channels
        if pointer.startswith(f"{at}/")
        and not _plain(pointer[len(at) :])
        and not only_poses(thing, pointer[len(at) :])
    ]
    columns = [np.round(motion.value(pointer), 6) for pointer in keyed]
    words = _words(motion, at, thing)
    bent = faces_camera(thing) and bends_with_pose(thing)
    if bent:
        columns += list(np.round(camera_in(matrix, camera), 4).T)
    one_by_one = _one_by_one(motion, at, thing)
    keys = len(columns)
    if one_by_one:
        seen = camera_in(matrix, camera) if bent else None
        frames = np.arange(len(motion.frames))
        whole = letter_poses(
            thing, Form(thing).pieces, OverFrames(motion, at, thing, frames), len(frames), seen
        )
        columns += list(np.round(homogeneous(whole).reshape(len(frames), -1), 6).T)
    edges = None if words is not None else _edges(motion, at, thing)
    if edges is not None:
        columns += list(edges.T)
    axes = None if words is not None else _axes(motion, at, thing)
    if axes is not None:
        columns += list(axes[1].reshape(len(motion.frames), -1).T)
    if words is not None:
        columns.append(words[1].astype(np.float64))
    if seconds is not None:
        columns.append(seconds)
    if not columns:
        return [Form(thing, chords, cut=cut)], np.zeros(len(motion.frames), np.int64)
    distinct, index = np.unique(np.stack(columns, axis=1), axis=0, return_inverse=True)
    forms = []
    for row in distinct.tolist():
        shown = thing.model_copy(deep=True)
        for pointer, value in zip(keyed, row, strict=False):
            _put(shown, pointer[len(at) :], value)
        moment = float(row.pop()) if seconds is not None else 0.0
        if words is not None:
            _put(shown, "/words", words[0][int(row.pop())])
            if isinstance(shown, Title) and holds_widths(shown):
                # Tabular figures (OpenType: tnum), unless something else was asked for.
                _put(shown, "/setting/features", f"tnum {shown.setting.features}".strip())
        eye = (row[keys - 3], row[keys - 2], row[keys - 1]) if bent else None
        shifts = _shifts(row, axes) if axes is not None else None
        own = tuple(row.pop() for _ in range(edges.shape[1]))[::-1] if edges is not None else None
        forms.append(
            Form(shown, chords, eye, cut, tuple(row[keys:]) if one_by_one else None, moment, own, shifts)
        )
    return forms, index.reshape(-1).astype(np.int64)


def _words(motion: Motion, at: str, thing: Bodied) -> tuple[list[str], Ints] | None:
    """The distinct words of a title that changes them, and which of them (frames,) each frame shows."""
    if not isinstance(thing, Title) or not changes_words(thing):
        return None
    values = OverFrames(motion, at, thing)
    return told_words(thing, values, motion.frames, motion.shot.format)


def _edges(motion: Motion, at: str, thing: Bodied) -> Floats | None:
    """By how much edges of letters reach further (frames, pieces), where that moves."""
    if not any(edges_of_letters(pointer) and pointer.startswith(f"{at}/") for pointer in motion.channels):
        return None
    return letter_edges(thing, Form(thing).pieces, OverFrames(motion, at, thing), len(motion.frames))


def _axes(motion: Motion, at: str, thing: Bodied) -> tuple[list[str], Floats] | None:
    """By how much letters are moved along axes (frames, pieces, axes), where that moves, and their tags."""
    if not any(axes_of_letters(pointer) and pointer.startswith(f"{at}/") for pointer in motion.channels):
        return None
    return letter_axes(thing, Form(thing).pieces, OverFrames(motion, at, thing), len(motion.frames))


def _shifts(row: list[float], axes: tuple[list[str], Floats]) -> AxisShifts:
    """Takes the shifts of all pieces off the end of a row."""
    tags, values = axes
    taken = np.array([row.pop() for _ in range(values[0].size)][::-1])
    return shifts_at(tags, taken.reshape(values.shape[1:]))


def _one_by_one(motion: Motion, at: str, thing: Bodied) -> bool:
    """Whether letters that are bent together are moved by sets, each at its own time."""
    return (
        bends_with_pose(thing)
        and isinstance(thing, Lettered)
        and any(
            letters.timing.order != "together" and motion.keyed(f"{at}/sets/{number}")
            for number, letters in enumerate(thing.sets)
        )
    )


def _plain(pointer: str) -> bool:
    """Whether a number is no matter of shape: where the thing stands, and what it wears."""
    return (
        pointer.startswith(("/place/", "/fill/", "/telling/", "/reveal/"))
        or "/finish" in pointer
        or looks_of_letters(pointer)
        or edges_of_letters(pointer)
        or axes_of_letters(pointer)
    )


def camera_in(matrix: Floats, camera: Floats) -> Floats:
    """Where the camera stands (frames, 3) in the space of a thing with these matrices (frames, 4, 4)."""
    seen: Floats = np.einsum(
        "fij,fj->fi", np.linalg.inv(matrix), np.column_stack([camera, np.ones(len(camera))])
    )[:, :3]
    return seen


def baked_poses(
    motion: Motion, at: str, thing: Bodied, matrix: Floats, camera: Floats, forms: list[Form], form: Ints
) -> Floats:
    """Where the pieces of a thing stand (frames, pieces, 3, 4); one frame for all where nothing moves them.

    Forms that differ in their outlines may have other pieces: places that a form has no piece for stay where
    the origin is.
    """
    seen = camera_in(matrix, camera) if faces_camera(thing) else None
    shown, which = _by_outlines(forms, form)
    pointers = [
        pointer
        for pointer in motion.channels
        if pointer.startswith(f"{at}/")
        and not _plain(pointer[len(at) :])
        and moves_letters(pointer[len(at) :])
    ]
    moving = len(shown) > 1 or seen is not None or bool(pointers)
    count = len(motion.frames) if moving else 1

    def made() -> Floats:
        parts = []
        for number, one in enumerate(shown):
            frames = np.flatnonzero(which[:count] == number)
            values = OverFrames(motion, at, one.thing, frames)
            there = None if seen is None else seen[frames]
            parts.append((frames, letter_poses(one.thing, one.pieces, values, len(frames), there)))
        if len(parts) == 1:
            return parts[0][1]
        found = np.zeros((count, max(poses.shape[1] for _, poses in parts), 3, 4))
        found[..., :, :] = np.eye(4)[:3]
        for frames, poses in parts:
            found[frames, : poses.shape[1]] = poses
        return found

    found = kept("poses", motion, pointers, shown, which, seen, made)
    assert found is not None
    return found


def baked_looks(motion: Motion, at: str, forms: list[Form], form: Ints) -> Floats | None:
    """What the pieces of a thing look like beside their finish (frames, pieces, LOOK_VALUES), one frame for
    all where that stays; None where they look as their finish says."""
    shown, which = _by_outlines(forms, form)
    pointers = [
        pointer for pointer in motion.channels if pointer.startswith(f"{at}/") and looks_of_letters(pointer)
    ]
    count = len(motion.frames) if len(shown) > 1 or pointers else 1

    def made() -> Floats | None:
        parts = []
        for number, one in enumerate(shown):
            frames = np.flatnonzero(which[:count] == number)
            values = OverFrames(motion, at, one.thing, frames)
            parts.append((frames, letter_looks(one.thing, one.pieces, values, len(frames))))
        # Sets are the same in all forms of a thing.
        there = [(frames, looks) for frames, looks in parts if looks is not None]
        if not there:
            return None
        found = np.zeros((count, max(looks.shape[1] for _, looks in there), there[0][1].shape[2]))
        for frames, looks in there:
            found[frames, : looks.shape[1]] = looks
        return found

    return kept("looks", motion, pointers, shown, which, None, made)


def _by_outlines(forms: list[Form], form: Ints) -> tuple[list[Form], Ints]:
    """One form of each outlines there are, and which of them (frames,) is shown."""
    groups: dict[str, int] = {}
    group = [groups.setdefault(one.outlines_key, len(groups)) for one in forms]
    shown = [forms[group.index(number)] for number in range(len(groups))]
    return shown, np.array(group, np.int64)[form]


class OverFrames:
    """A thing's numbers at some of the frames of a motion; what shapes its outlines is that of one of its
    forms."""

    def __init__(self, motion: Motion, at: str, thing: Bodied, frames: Ints | None = None) -> None:
        self.motion, self.at = motion, at
        self.frames = np.arange(len(motion.frames)) if frames is None else frames
        self._rest = Resting(thing)
        self._late: tuple[Floats, Instants] | None = None

    def value(self, pointer: str) -> Floats:
        if self.at + pointer in self.motion.channels:
            return self.motion.value(self.at + pointer)[self.frames]
        return self._rest.value(pointer)

    def value_at(self, pointer: str, delays: Floats) -> Floats:
        if not delays.any():
            return self.value(pointer)[:, None]
        if self.at + pointer in self.motion.channels:
            # The values of a set are read at the same times, one after the other.
            if self._late is None or not np.array_equal(self._late[0], delays):
                self._late = delays, Instants(self.motion.frames[self.frames][:, None] - delays)
            return self.motion.value_at(self.at + pointer, self._late[1])
        return self._rest.value_at(pointer, delays)

    def keyed(self, pointer: str) -> bool:
        return self.motion.keyed(self.at + pointer)


def cut_by(motion: Motion, thing: Bodied, matrix: Floats) -> tuple[Bodied, tuple[float, ...]] | None:
    """What a thing goes by, where that rests at the first frame, in the space of the thing: titles are cut
    out, lines run along outlines, grains gather on any body, and lines are wound round any."""
    other = motion.shot.things.get(thing.goes_by)
    round_it = isinstance(thing, Swarm) or (isinstance(thing, Strand) and thing.rule == "wound")
    kinds = (Title, Mark, Mesh) if round_it else (Title, Mark) if isinstance(thing, Strand) else (Title,)
    if not isinstance(other, kinds):
        return None
    place = np.linalg.inv(matrix[0]) @ placed(motion, thing.goes_by)[0]
    return other, tuple(place.round(6).ravel().tolist())


def _put(thing: Bodied, pointer: str, value: float | str) -> None:
    """Set a value without validating again what its channel keeps within limits."""
    parent, _, last = pointer.rpartition("/")
    (resolve(thing, parent) if parent else thing).__dict__[last] = value


def _chords(shot: Shot, thing: Bodied, matrix: Floats, camera: Floats, angle: Floats) -> float:
    """Metres that chords may stray from curves: its tolerance in pixels at the closest approach of the
    camera.

    Rounded down to a power of two, so that bodies stay the same while the camera moves a little.
    """
    scale = np.linalg.norm(matrix[:, :3, 0], axis=1)
    size = thing.extent
    # Radius of a circle around it; a letter is about as wide as it is high.
    lines = thing.words.split("\n") if isinstance(thing, Title) else ["xx"]
    leading = thing.setting.leading if isinstance(thing, Title) else 1.0
    radius = scale * 0.5 * size * np.hypot(max(map(len, lines)), len(lines) * leading)
    away = np.maximum(np.linalg.norm(camera - matrix[:, :3, 3], axis=1) - radius, 0.5 * size * scale)
    pixel = 2 * away * np.tan(np.radians(angle) / 2) / shot.format.height / np.maximum(scale, 1e-9)
    body = getattr(thing, "body", None)
    wished = float(pixel.min()) * (body.tolerance if body is not None else 0.3)
    return float(np.exp2(np.floor(np.log2(np.clip(wished, 2e-5 * size, 4e-3 * size)))))
