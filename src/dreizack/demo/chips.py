"""Chips of the finishes that ship, made beforehand: nobody waits for them."""

from __future__ import annotations

from pathlib import Path

from ..core.finish import PRESETS
from ..core.scene import chip_name, swatch
from .beforehand import make_pictures

READY_MADE = Path(__file__).parent / "ready"
SIDE, SAMPLES = 112, 64


def make_chips(folder: Path = READY_MADE) -> int:
    """Write those that are not there yet, and remove those that nobody asks for any more; how many were
    made."""
    shots = [swatch(one, SIDE) for one in PRESETS.values()]
    return make_pictures(folder, {chip_name(shot): (shot, 0, (SIDE, SIDE)) for shot in shots}, SAMPLES)
