"""Memory of the renderer that nobody needs now."""

from __future__ import annotations

import ctypes
import gc

from .engine import arrays


def give_back() -> None:
    """Give what the renderer and the allocator keep for later back to the system; what is on stage stays."""
    gc.collect()
    arrays().flush_malloc_cache()
    trim = getattr(ctypes.CDLL(None), "malloc_trim", None)
    if trim is not None:
        trim(0)
