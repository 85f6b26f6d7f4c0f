"""All values of a shot over a run of frames: as they are, keyed, drifting or following others."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..document import Channel, Coupling, Shot, resolve
from ..document.formula import parse
from ..sound import heard
from ..sound.listening import MOMENTS
from .drift import drift
from .formula import evaluate
from .instants import Instants
from .orientation import shortest_way
from .sample import sample
from .smoothing import smoothed

Floats = NDArray[np.float64]


class Motion:
    """Values of a shot over ``frames`` (frames,), by pointer.

    Every array handed out has the frames along its first axis; ``channels`` holds all values that may move,
    each evaluated once.
    """

    def __init__(self, shot: Shot, frames: Floats) -> None:
        self.shot = shot
        self.frames = np.asarray(frames, dtype=np.float64)
        instants = Instants(self.frames)
        self._moving = frozenset(shot.moving)
        # Every value that may move, and everything such a value is part of.
        self._above = {pointer[:end] for pointer in shot.moving for end in _ends(pointer)}
        self.channels = {pointer: self._evaluated(pointer, instants) for pointer in shot.moving}

    def value(self, pointer: str) -> Floats:
        """One value, (frames,), within the limits of its field."""
        moving = self.channels.get(pointer)
        if moving is None:
            return np.full(self.frames.shape, float(resolve(self.shot, pointer)))
        low, high = _limits(self.shot, pointer)
        return np.clip(moving, low, high)

    def value_at(self, pointer: str, times: Floats | Instants) -> Floats:
        """One value at other times, of any shape, within the limits of its field."""
        if self.shot.hears(pointer):
            return self._heard(pointer, times)
        if pointer not in self._moving:
            shape = times.shape if isinstance(times, Instants) else np.shape(times)
            return np.full(shape, float(resolve(self.shot, pointer)))
        low, high = _limits(self.shot, pointer)
        return np.clip(self._evaluated(pointer, times), low, high)

    def vector(self, pointer: str, names: str = "xyz") -> Floats:
        """Several values side by side, (frames, len(names))."""
        return np.stack([self.value(f"{pointer}/{name}") for name in names], axis=1)

    def keyed(self, pointer: str) -> bool:
        """Whether this value, or one below it, may move."""
        return pointer in self._above

    def _evaluated(self, pointer: str, times: Floats | Instants) -> Floats:
        """One value at any times: its own or keyed number, then what it follows, then drift."""
        instants = times if isinstance(times, Instants) else Instants(times)
        shot = self.shot
        channel, coupling, wanders = (
            shot.channels.get(pointer),
            shot.couplings.get(pointer),
            shot.drifts.get(pointer),
        )
        at = instants.ordered
        if whole := shot.turned_by(pointer):
            found = self._turned(whole, pointer, at)
        elif channel is not None and coupling is None and wanders is None:
            return sample(channel, instants)
        elif channel is not None:
            found = sample(channel, at)
        else:
            found = np.full(at.shape, float(resolve(shot, pointer)))
        if coupling is not None:
            found = self._followed(coupling, found, at)
        if wanders is not None:
            found = found + drift(wanders, pointer, at, shot.format.rate.per_second)
        return instants.spread(found)

    def _turned(self, channels: list[Channel | None], pointer: str, at: Floats) -> Floats:
        """One of the three values of a keyed orientation at times (n,) in rising order."""
        own = np.array([float(resolve(self.shot, pointer[:-1] + axis)) for axis in "xyz"])
        return shortest_way(channels, own, at)[:, "xyz".index(pointer[-1])]

    def _followed(self, by: Coupling, own: Floats, at: Floats) -> Floats:
        """What a coupling makes of its sources at times (n,) in rising order."""
        if not by.source and not by.formula.strip():
            # Not told yet what to follow.
            return own
        then = at - by.delay
        x = self._smoothed(by.source, then, by.smoothing) if by.source else np.zeros_like(at)
        if by.formula.strip():
            values = {"x": x, "own": own, "t": at / self.shot.format.rate.per_second, "f": at}
            values |= {name: self._smoothed(source, then, by.smoothing) for name, source in by.also.items()}
            found = np.broadcast_to(evaluate(parse(by.formula), values), at.shape) * by.gain + by.offset
        else:
            found = x * by.gain + by.offset
        return np.clip(found, by.low, by.high) if by.limited else found

    def _heard(self, pointer: str, times: Floats | Instants) -> Floats:
        """What is heard in a sound at any times, 0 before and after it."""
        _, _, name, _, band = pointer.split("/")
        instants = times if isinstance(times, Instants) else Instants(times)
        sound = self.shot.sounds[name]
        listened = heard(sound.file)
        if listened is None:
            return instants.spread(np.zeros_like(instants.ordered))
        since = (instants.ordered - sound.start) / self.shot.format.rate.per_second
        values: Floats = getattr(listened, band)
        # A moment stands for the stretch that it is the middle of.
        at = (since + sound.skip) * MOMENTS - 0.5
        found = np.interp(at, np.arange(len(values)), values, 0.0, 0.0)
        return instants.spread(np.where(since >= 0, found, 0.0))

    def _smoothed(self, pointer: str, at: Floats, width: float) -> Floats:
        return smoothed(lambda times: self.value_at(pointer, times), at, width)


def _ends(pointer: str) -> list[int]:
    return [i for i, sign in enumerate(pointer) if sign == "/" and i] + [len(pointer)]


def _limits(shot: Shot, pointer: str) -> tuple[float, float]:
    """Eases may overshoot; what a field does not allow (a roughness above 1) is cut off."""
    parent, _, name = pointer.rpartition("/")
    metadata = type(resolve(shot, parent)).model_fields[name].metadata
    low = next((m.ge for m in metadata if hasattr(m, "ge")), -np.inf)
    high = next((m.le for m in metadata if hasattr(m, "le")), np.inf)
    return float(low), float(high)
