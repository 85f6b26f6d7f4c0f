"""Flat areas that were followed, as files."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from ..caching import cached_by_size
from ..library import find
from .archive import Unsound, archive_bytes, read_archive
from .planar import Followed

ENDING = "track"
MOST_FRAMES = 20_000


def followed_bytes(followed: Followed) -> bytes:
    """What was followed as a file; the same makes the same bytes."""
    arrays = {"homographies": followed.homographies, "alike": followed.alike}
    return archive_bytes({"kind": "flat area", "reference": followed.reference}, arrays)


def read_followed(path: Path) -> Followed:
    """Read it back. Unsound for what is none."""
    try:
        facts, data = read_archive(path, ("homographies", "alike"))
        made = Followed(
            int(facts["reference"]), data["homographies"].astype(np.float64), data["alike"].astype(np.float64)
        )
    except Exception as why:
        raise Unsound("this file is no flat area that was followed") from why
    frames = len(made.alike)
    sound = (
        1 <= frames <= MOST_FRAMES
        and made.homographies.shape == (frames, 3, 3)
        and made.alike.shape == (frames,)
        and 0 <= made.reference < frames
        and bool(np.isfinite(made.homographies).all() and np.isfinite(made.alike).all())
        and float(np.abs(np.linalg.det(made.homographies)).min()) > 1e-9
    )
    if not sound:
        raise Unsound("this flat area does not agree with itself")
    return made


@cached_by_size(100)
def library_followed(name: str) -> Followed | None:
    """What was followed, of that name in the library; None where there is none, or none that can be read."""
    path = find(name) if name.endswith(f".{ENDING}") else None
    if path is None:
        return None
    try:
        return read_followed(path)
    except Unsound:
        return None
