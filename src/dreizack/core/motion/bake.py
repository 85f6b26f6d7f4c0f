"""All keyed values of a shot over a run of frames."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..document import Shot, resolve
from .instants import Instants
from .sample import sample

Floats = NDArray[np.float64]


class Motion:
    """Values of a shot over ``frames`` (frames,), keyed or constant, by pointer.

    Every array handed out has the frames along its first axis; keyed values are evaluated once.
    """

    def __init__(self, shot: Shot, frames: Floats) -> None:
        self.shot = shot
        self.frames = np.asarray(frames, dtype=np.float64)
        instants = Instants(self.frames)
        # Every value that has keys, and everything such a value is part of.
        self._above = {pointer[:end] for pointer in shot.channels for end in _ends(pointer)}
        self.channels = {pointer: sample(channel, instants) for pointer, channel in shot.channels.items()}

    def value(self, pointer: str) -> Floats:
        """One value, (frames,), within the limits of its field."""
        keyed = self.channels.get(pointer)
        if keyed is None:
            return np.full(len(self.frames), float(resolve(self.shot, pointer)))
        low, high = _limits(self.shot, pointer)
        return np.clip(keyed, low, high)

    def value_at(self, pointer: str, times: Floats | Instants) -> Floats:
        """One value at other times, of any shape, within the limits of its field."""
        channel = self.shot.channels.get(pointer)
        if channel is None:
            shape = times.shape if isinstance(times, Instants) else np.shape(times)
            return np.full(shape, float(resolve(self.shot, pointer)))
        low, high = _limits(self.shot, pointer)
        return np.clip(sample(channel, times), low, high)

    def vector(self, pointer: str, names: str = "xyz") -> Floats:
        """Several values side by side, (frames, len(names))."""
        return np.stack([self.value(f"{pointer}/{name}") for name in names], axis=1)

    def keyed(self, pointer: str) -> bool:
        """Whether this value, or one below it, has keys."""
        return pointer in self._above


def _ends(pointer: str) -> list[int]:
    return [i for i, sign in enumerate(pointer) if sign == "/" and i] + [len(pointer)]


def _limits(shot: Shot, pointer: str) -> tuple[float, float]:
    """Eases may overshoot; what a field does not allow (a roughness above 1) is cut off."""
    parent, _, name = pointer.rpartition("/")
    metadata = type(resolve(shot, parent)).model_fields[name].metadata
    low = next((m.ge for m in metadata if hasattr(m, "ge")), -np.inf)
    high = next((m.le for m in metadata if hasattr(m, "le")), np.inf)
    return float(low), float(high)
