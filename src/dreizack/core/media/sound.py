"""The sound of a delivery."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..document import Shot
from ..motion import Motion
from ..sound import Placed, mixed, sound_facts

SILENT = -60.0


def shot_sound(shot: Shot, first: int, last: int) -> NDArray[np.float32] | None:
    """Samples (n, 2) of the frames ``first`` to ``last`` of a shot; None where nothing is to be heard."""
    there = {
        name: sound for name, sound in shot.sounds.items() if sound.on and sound_facts(sound.file) is not None
    }
    if not there:
        return None
    rate = shot.format.rate.per_second
    # Gains at quarters of frames; between them they run straight.
    frames = np.linspace(first, last + 1, 4 * (last + 1 - first) + 1)
    motion = Motion(shot, frames)
    placed = []
    for name, sound in there.items():
        decibels = motion.value(f"/sounds/{name}/gain")
        gain = np.where(decibels <= SILENT, 0.0, 10 ** (decibels / 20))
        facts = sound_facts(sound.file)
        assert facts is not None
        end = min(sound.start + (facts.seconds - sound.skip) * rate, float(shot.format.frames))
        if sound.fade_in > 0:
            gain = gain * np.clip((frames - sound.start) / sound.fade_in, 0, 1)
        if sound.fade_out > 0:
            gain = gain * np.clip((end - frames) / sound.fade_out, 0, 1)
        placed.append(Placed(sound.file, sound.start / rate, sound.skip, gain))
    return mixed(placed, first / rate, (last + 1 - first) / rate)
