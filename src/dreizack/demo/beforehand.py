"""Pictures that ship, so that nobody waits for them."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

import cv2

from ..core.document import Shot
from ..core.media.finishing import finishing
from ..core.optics import Passes, finished
from ..core.render import Quality, Stage, trace
from ..core.scene import BodyStore, bake, frame_state

JPEG_QUALITY = 90


def make_pictures(folder: Path, wanted: Mapping[str, tuple[Shot, int, tuple[int, int]]], samples: int) -> int:
    """Trace those that are not in a folder yet: by name a shot, a frame, width and height. Removes what
    nobody asks for any more; how many were made."""
    folder.mkdir(exist_ok=True)
    for file in folder.glob("*.jpg"):
        if file.stem not in wanted:
            file.unlink()
    lacking = {name: one for name, one in wanted.items() if not (folder / f"{name}.jpg").exists()}
    for name, (shot, frame, size) in lacking.items():
        state, stage = frame_state(shot, bake(shot), frame), Stage(BodyStore())
        stage.show(state)
        rgba = trace(stage, *size, Quality(samples, "high")).rgba
        shown = finished(Passes(rgba), finishing(state, size))
        cv2.imwrite(str(folder / f"{name}.jpg"), shown[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, JPEG_QUALITY])
    return len(lacking)
