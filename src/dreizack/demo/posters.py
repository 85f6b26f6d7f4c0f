"""Posters of the demo's shots, made beforehand: whoever opens it for the first time sees pictures."""

from __future__ import annotations

import tempfile
from pathlib import Path

from ..core.library import shelve
from ..core.scene import poster_frame, poster_name, poster_size
from .beforehand import make_pictures
from .forms import bring_demo_files
from .production import demo_shots

READY_POSTERS = Path(__file__).parent / "posters"
SAMPLES = 96


def make_posters(folder: Path = READY_POSTERS) -> int:
    """Write those that are not there yet, and remove those of shots that are no more; how many were made."""
    wanted = {
        poster_name(shot): (shot, poster_frame(shot), poster_size(shot)) for shot in demo_shots().values()
    }
    with tempfile.TemporaryDirectory() as library:
        bring_demo_files(Path(library))
        shelve(Path(library))
        return make_pictures(folder, wanted, SAMPLES)
