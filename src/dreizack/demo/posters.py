"""Posters of the demo's shots, made beforehand: whoever opens it for the first time sees pictures."""

from __future__ import annotations

import tempfile
from pathlib import Path

import cv2

from ..core.document import Shot
from ..core.library import shelve
from ..core.media.finishing import finishing
from ..core.optics import Passes, finished
from ..core.render import Quality, Stage, trace
from ..core.scene import BodyStore, bake, frame_state, poster_frame, poster_name, poster_size
from .forms import bring_demo_files
from .production import demo_shots

READY_POSTERS = Path(__file__).parent / "posters"
SAMPLES = 96


def make_posters(folder: Path = READY_POSTERS) -> int:
    """Write those that are not there yet, and remove those of shots that are no more; how many were made."""
    folder.mkdir(exist_ok=True)
    shots = {f"{poster_name(shot)}.jpg": shot for shot in demo_shots().values()}
    for file in folder.glob("*.jpg"):
        if file.name not in shots:
            file.unlink()
    lacking = [name for name in shots if not (folder / name).exists()]
    with tempfile.TemporaryDirectory() as library:
        bring_demo_files(Path(library))
        shelve(Path(library))
        for name in lacking:
            _make(shots[name], folder / name)
    return len(lacking)


def _make(shot: Shot, path: Path) -> None:
    state, size = frame_state(shot, bake(shot), poster_frame(shot)), poster_size(shot)
    stage = Stage(BodyStore())
    stage.show(state)
    rgba = trace(stage, *size, Quality(SAMPLES, "high")).rgba
    shown = finished(Passes(rgba), finishing(state, size))
    cv2.imwrite(str(path), shown[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, 88])
