"""Tables of colours as text files (.cube): lattices and curves, read and written."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..caching import cached_by_size
from ..library import find

Floats = NDArray[np.float32]

MAX_BYTES = 24 * 1024 * 1024
MAX_SIDE, MAX_STEPS = 129, 65_536
ENDING = "cube"


class TableFileError(ValueError):
    """A file that is no table of colours; the text says what is wrong and where."""


@dataclass(frozen=True)
class ColourTable:
    """Either a lattice (side, side, side, 3), by red, green and blue, or three curves (steps, 3), over
    colours from ``low`` to ``high`` (3,)."""

    values: Floats
    low: Floats
    high: Floats

    @property
    def is_lattice(self) -> bool:
        return self.values.ndim == 4

    def __call__(self, colours: Floats) -> Floats:
        """What becomes of colours (..., 3): trilinear in a lattice, linear along curves; held at the ends."""
        side = self.values.shape[0]
        at = (colours - self.low) / (self.high - self.low) * np.float32(side - 1)
        at = np.clip(at, 0, side - 1).astype(np.float32)
        before = np.minimum(at.astype(np.int32), side - 2)
        share = at - before
        if not self.is_lattice:
            channel = np.arange(3)
            a, b = self.values[before, channel], self.values[before + 1, channel]
            curved: Floats = a + (b - a) * share
            return curved
        r, g, b = (before[..., k] for k in range(3))
        made = np.zeros_like(at)
        for corner in range(8):
            step = [(corner >> k) & 1 for k in range(3)]
            weight = np.ones_like(share[..., 0])
            for k in range(3):
                weight = weight * (share[..., k] if step[k] else 1 - share[..., k])
            made += weight[..., None] * self.values[r + step[0], g + step[1], b + step[2]]
        return made


def read_cube(data: bytes) -> ColourTable:
    """A table from a .cube file; TableFileError names the line and what is wrong with it."""
    if len(data) > MAX_BYTES:
        raise TableFileError(f"the table is larger than {MAX_BYTES // 1024 // 1024} MB")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise TableFileError("this is no table of colours as text (.cube)") from None
    side = steps = 0
    low, high = np.zeros(3, np.float32), np.ones(3, np.float32)
    numbers: list[str] = []
    for number, line in enumerate(text.splitlines(), 1):
        told = line.split("#", 1)[0].split()
        if not told:
            continue
        word = told[0].upper()
        if word == "TITLE":
            continue
        if word in ("LUT_3D_SIZE", "LUT_1D_SIZE"):
            least, most = (2, MAX_SIDE) if word == "LUT_3D_SIZE" else (2, MAX_STEPS)
            if len(told) != 2 or not told[1].isdecimal() or not least <= int(told[1]) <= most:
                raise TableFileError(f"line {number}: a size lies between {least} and {most}")
            if side or steps:
                raise TableFileError(f"line {number}: there is a second size; such tables are not read")
            side, steps = (int(told[1]), 0) if word == "LUT_3D_SIZE" else (0, int(told[1]))
        elif word in ("DOMAIN_MIN", "DOMAIN_MAX", "LUT_3D_INPUT_RANGE", "LUT_1D_INPUT_RANGE"):
            ends = _numbers(told[1:], number, 3 if word.startswith("DOMAIN") else 2)
            if word == "DOMAIN_MIN":
                low = ends
            elif word == "DOMAIN_MAX":
                high = ends
            else:
                low, high = np.repeat(ends[:1], 3), np.repeat(ends[1:], 3)
        elif word[0].isdigit() or word[0] in "+-.":
            if len(told) != 3:
                raise TableFileError(f"line {number} has {len(told)} numbers; a colour has three")
            numbers += told
        else:
            raise TableFileError(f"line {number}: '{told[0][:40]}' is not known")
    if not (side or steps):
        raise TableFileError("there is no size (LUT_3D_SIZE or LUT_1D_SIZE) in this file")
    wanted = side**3 if side else steps
    if len(numbers) != wanted * 3:
        raise TableFileError(f"there are {len(numbers) // 3} colours; of this size there must be {wanted}")
    if not (high > low).all():
        raise TableFileError("the range of the table ends where it begins, or before")
    try:
        values = np.array(numbers, np.float32)
    except ValueError:
        raise TableFileError("there is something among the colours that is no number") from None
    if not np.isfinite(values).all() or float(np.abs(values).max()) > 1e4:
        raise TableFileError("there are colours that are not finite, or far too large")
    if side:
        # In the file red runs fastest.
        return ColourTable(values.reshape(side, side, side, 3).transpose(2, 1, 0, 3).copy(), low, high)
    return ColourTable(values.reshape(steps, 3), low, high)


def _numbers(told: list[str], line: int, count: int) -> Floats:
    try:
        values = np.array([float(one) for one in told], np.float32)
    except ValueError:
        values = np.zeros(0, np.float32)
    if len(values) != count or not np.isfinite(values).all():
        raise TableFileError(f"line {line}: there must be {count} numbers")
    return values


def write_cube(lattice: Floats, title: str) -> str:
    """A lattice (side, side, side, 3) over colours from 0 to 1 as a .cube file."""
    side = lattice.shape[0]
    clean = "".join(c for c in title if c.isprintable() and c != '"')[:80]
    rows = lattice.transpose(2, 1, 0, 3).reshape(-1, 3)
    body = "\n".join(f"{r:.6f} {g:.6f} {b:.6f}" for r, g, b in rows.tolist())
    return f'TITLE "{clean}"\nLUT_3D_SIZE {side}\nDOMAIN_MIN 0 0 0\nDOMAIN_MAX 1 1 1\n{body}\n'


@cached_by_size(200)
def library_table(name: str) -> ColourTable | None:
    """The table of that name in the library; None where there is none, or none that can be read."""
    path = find(name) if name.endswith(f".{ENDING}") else None
    if path is None:
        return None
    try:
        return read_cube(path.read_bytes())
    except (TableFileError, OSError):
        return None
