"""Caches that are bounded by the bytes they hold, not by how many things that is.

What was not there is never remembered: a file that is brought later is found.
"""

from .sized import SizedCache, cached_by_size, size_of

__all__ = ["SizedCache", "cached_by_size", "size_of"]
