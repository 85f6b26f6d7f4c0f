"""Least recently used first out (LRU), by bytes."""

from __future__ import annotations

import dataclasses
import functools
import sys
import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable, Iterator
from typing import Any, Generic, ParamSpec, TypeVar

K = TypeVar("K", bound=Hashable)
V = TypeVar("V")
P = ParamSpec("P")
# Of what an entry needs beside its own bytes.
ENTRY = 200


def size_of(value: Any) -> int:
    """Bytes a value holds: arrays by their buffers, what contains others by those.

    >>> import numpy as np
    >>> size_of((np.zeros(1000), b"abc")) > 8000
    True
    """
    held = getattr(value, "nbytes", None)
    if isinstance(held, int):
        return held + ENTRY
    if dataclasses.is_dataclass(value) and not isinstance(value, type):
        return sum(size_of(getattr(value, field.name)) for field in dataclasses.fields(value)) + ENTRY
    if isinstance(value, dict):
        return sum(size_of(k) + size_of(v) for k, v in value.items()) + sys.getsizeof(value)
    if isinstance(value, list | tuple | set | frozenset):
        return sum(map(size_of, value)) + sys.getsizeof(value)
    return sys.getsizeof(value)


class SizedCache(Generic[K, V]):
    """A mapping of at most ``limit`` bytes; safe to share between threads.

    An entry larger than the whole limit is kept alone, until the next one comes.
    """

    def __init__(self, limit: int, measure: Callable[[V], int] = size_of) -> None:
        self.limit, self.size = limit, 0
        self._measure = measure
        self._kept: OrderedDict[K, tuple[V, int]] = OrderedDict()
        self._lock = threading.RLock()

    def get(self, key: K) -> V | None:
        """What is kept under a key, used just now; None where there is nothing."""
        with self._lock:
            found = self._kept.get(key)
            if found is None:
                return None
            self._kept.move_to_end(key)
            return found[0]

    def put(self, key: K, value: V) -> None:
        """Keep a value; what was not used for longest makes room."""
        size = self._measure(value)
        with self._lock:
            old = self._kept.pop(key, None)
            self.size += size - (old[1] if old else 0)
            self._kept[key] = value, size
            while self.size > self.limit and len(self._kept) > 1:
                _, (_, gone) = self._kept.popitem(last=False)
                self.size -= gone

    def __contains__(self, key: K) -> bool:
        return key in self._kept

    def __len__(self) -> int:
        return len(self._kept)

    def __iter__(self) -> Iterator[K]:
        with self._lock:
            return iter(list(self._kept))

    def clear(self) -> None:
        with self._lock:
            self._kept.clear()
            self.size = 0


def cached_by_size(megabytes: float) -> Callable[[Callable[P, V]], Callable[P, V]]:
    """Remember the results of a function of hashable arguments, at most so many megabytes of them; never
    None."""

    def decorate(function: Callable[P, V]) -> Callable[P, V]:
        kept: SizedCache[Any, V] = SizedCache(int(megabytes * 1_000_000))

        @functools.wraps(function)
        def remembered(*args: P.args, **words: P.kwargs) -> V:
            key = (args, tuple(sorted(words.items())))
            found = kept.get(key)
            if found is None:
                found = function(*args, **words)
                if found is not None:
                    kept.put(key, found)
            return found

        remembered.cache_clear = kept.clear  # type: ignore[attr-defined]
        return remembered

    return decorate
