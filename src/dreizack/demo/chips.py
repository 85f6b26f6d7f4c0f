"""Chips of the finishes that ship, made beforehand: nobody waits for them."""

from __future__ import annotations

from pathlib import Path

import cv2

from ..core.finish import PRESETS
from ..core.media.finishing import finishing
from ..core.optics import Passes, finished
from ..core.render import Quality, Stage, trace
from ..core.scene import BodyStore, bake, chip_name, frame_state, swatch

READY_MADE = Path(__file__).parent / "ready"
SIDE, SAMPLES = 112, 64


def make_chips(folder: Path = READY_MADE) -> int:
    """Write those that are not there yet, and remove those that nobody asks for any more; how many were
    made."""
    folder.mkdir(exist_ok=True)
    shots = {f"{chip_name(shot)}.jpg": shot for shot in (swatch(one, SIDE) for one in PRESETS.values())}
    for file in folder.glob("*.jpg"):
        if file.name not in shots:
            file.unlink()
    made = 0
    for name, shot in shots.items():
        if (folder / name).exists():
            continue
        state, stage = frame_state(shot, bake(shot), 0), Stage(BodyStore())
        stage.show(state)
        rgba = trace(stage, SIDE, SIDE, Quality(SAMPLES, "high")).rgba
        shown = finished(Passes(rgba), finishing(state, (SIDE, SIDE)))
        cv2.imwrite(str(folder / name), shown[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, 90])
        made += 1
    return made
