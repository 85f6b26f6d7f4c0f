"""What letters do over time, kept by what it is made from: an edit evaluates anew what it changed."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterable

import numpy as np
from numpy.typing import NDArray

from ...caching import SizedCache
from ...document import Bodied
from ...motion import Motion, origins
from ..form import Form

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# Bytes of all that is kept in a process.
LIMIT = 160_000_000
# What of a thing moves letters or tints them, beside the outlines of its forms.
_SECTIONS = {"setting", "path", "ranges", "sets", "poses"}
_kept: SizedCache[bytes, tuple[Floats | None]] = SizedCache(LIMIT)


def kept(
    kind: str,
    motion: Motion,
    pointers: Iterable[str],
    shown: list[Form],
    which: Ints,
    camera: Floats | None,
    make: Callable[[], Floats | None],
) -> Floats | None:
    """What ``make`` evaluates over the frames of a motion, or did before.

    It may depend on the moving values at ``pointers``, on outlines and sections of the forms ``shown``
    (``which`` of them: (frames,)), and on where the ``camera`` stands. Nobody may write to it.
    """
    key = hashlib.blake2b(kind.encode(), digest_size=16)
    key.update(origins(motion, pointers))
    for one in shown:
        key.update(one.outlines_key.encode() + _sections(one.thing))
    if len(shown) > 1:
        key.update(np.ascontiguousarray(which).tobytes())
    if camera is not None:
        key.update(np.ascontiguousarray(camera).tobytes())
    name = key.digest()
    found = _kept.get(name)
    if found is None:
        made = make()
        if made is not None:
            made.flags.writeable = False
        found = (made,)
        _kept.put(name, found)
    return found[0]


def _sections(thing: Bodied) -> bytes:
    return thing.model_dump_json(include=_SECTIONS).encode()
