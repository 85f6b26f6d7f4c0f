"""What values over time are made from: two runs of the same origin are alike."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable

import numpy as np

from ..document import resolve
from ..sound import heard
from .bake import Motion


def origins(motion: Motion, pointers: Iterable[str]) -> bytes:
    """A hash of the keys, drifts, couplings and sounds behind the values at ``pointers``, of what those
    follow in turn, and of the frames they are asked for.

    The own numbers at ``pointers`` are not part of it: whoever keeps values knows the thing they belong to.
    """
    shot, made = motion.shot, hashlib.blake2b(digest_size=16)
    made.update(np.ascontiguousarray(motion.frames).tobytes())
    made.update(repr(shot.format.rate.per_second).encode())
    own = list(pointers)
    waiting, seen = own[::-1], set(own)
    while waiting:
        pointer = waiting.pop()
        made.update(pointer.encode())
        if shot.hears(pointer):
            sound = shot.sounds[pointer.split("/")[2]]
            made.update(sound.model_dump_json().encode() + repr(heard(sound.file) is None).encode())
            continue
        if pointer not in own:
            made.update(repr(resolve(shot, pointer)).encode())
        coupling, wanders = shot.couplings.get(pointer), shot.drifts.get(pointer)
        for one in (shot.channels.get(pointer), *shot.turned_by(pointer), coupling, wanders):
            made.update(b"-" if one is None else one.model_dump_json().encode())
        for source in [] if coupling is None else [coupling.source, *coupling.also.values()]:
            if source and source not in seen:
                seen.add(source)
                waiting.append(source)
    return made.digest()
