"""Forms over time: each that differs from the others is built once."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...document import Bodied, Floor, Sheet, Shot, Title, resolve
from ...motion import Motion
from ..form import Form, size_of
from .places import placed

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


def baked_forms(
    motion: Motion, at: str, thing: Bodied, matrix: Floats, camera: Floats, angle: Floats
) -> tuple[list[Form], Ints]:
    """Distinct forms and their index per frame; keyed values are rounded to a micrometre."""
    chords = 0.0 if isinstance(thing, Floor) else _chords(motion.shot, thing, matrix, camera, angle)
    cut = _cut(motion, thing, matrix) if isinstance(thing, Sheet) else None
    keyed = [
        pointer for pointer in motion.channels
        if pointer.startswith(f"{at}/") and not pointer.startswith((f"{at}/place/", f"{at}/fill/")) and "/finish" not in pointer
    ]
    columns = [np.round(motion.value(pointer), 6) for pointer in keyed]
    path = thing.path if isinstance(thing, Title) else None
    faces = path is not None and path.kind != "none" and path.stance == "bulging" and path.facing == "camera"
    if faces:
        seen = np.einsum("fij,fj->fi", np.linalg.inv(matrix), np.column_stack([camera, np.ones(len(camera))]))[:, :3]
        columns += list(np.round(seen, 4).T)
    if not columns:
        return [Form(thing, chords, cut=cut)], np.zeros(len(motion.frames), np.int64)
    distinct, index = np.unique(np.stack(columns, axis=1), axis=0, return_inverse=True)
    forms = []
    for row in distinct.tolist():
        shown = thing.model_copy(deep=True)
        for pointer, value in zip(keyed, row, strict=False):
            _put(shown, pointer[len(at) :], value)
        forms.append(Form(shown, chords, (row[-3], row[-2], row[-1]) if faces else None, cut))
    return forms, index.reshape(-1).astype(np.int64)


def _cut(motion: Motion, sheet: Sheet, matrix: Floats) -> tuple[Title, tuple[float, ...]] | None:
    """The title that is cut out of a sheet, where it rests at the first frame, in the sheet's space."""
    title = motion.shot.things.get(sheet.cut)
    if not isinstance(title, Title):
        return None
    place = np.linalg.inv(matrix[0]) @ placed(motion, f"/things/{sheet.cut}")[0]
    return title, tuple(place.round(6).ravel().tolist())


def _put(thing: Bodied, pointer: str, value: float) -> None:
    """Set a value without validating again what its channel keeps within limits."""
    parent, _, last = pointer.rpartition("/")
    resolve(thing, parent).__dict__[last] = value


def _chords(shot: Shot, thing: Bodied, matrix: Floats, camera: Floats, angle: Floats) -> float:
    """Metres that chords may stray from curves: its tolerance in pixels at the closest approach of the camera.

    Rounded down to a power of two, so that bodies stay the same while the camera moves a little.
    """
    scale = np.linalg.norm(matrix[:, :3, 0], axis=1)
    size = size_of(thing)
    # Radius of a circle around it; a letter is about as wide as it is high.
    lines = thing.words.split("\n") if isinstance(thing, Title) else ["xx"]
    leading = thing.setting.leading if isinstance(thing, Title) else 1.0
    radius = scale * 0.5 * size * np.hypot(max(map(len, lines)), len(lines) * leading)
    away = np.maximum(np.linalg.norm(camera - matrix[:, :3, 3], axis=1) - radius, 0.5 * size * scale)
    pixel = 2 * away * np.tan(np.radians(angle) / 2) / shot.format.height / np.maximum(scale, 1e-9)
    body = getattr(thing, "body", None)
    wished = float(pixel.min()) * (body.tolerance if body is not None else 0.3)
    return float(np.exp2(np.floor(np.log2(np.clip(wished, 2e-5 * size, 4e-3 * size)))))
