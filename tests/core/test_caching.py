"""Caches hold so many bytes and no more, and never remember that something was not there."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.caching import SizedCache, cached_by_size, size_of
from dreizack.core.document import Shot
from dreizack.core.scene import BodyStore, bake


@given(st.lists(st.tuples(st.integers(0, 12), st.integers(1, 4000)), max_size=60))
def test_never_more_bytes_than_allowed_and_the_latest_is_there(puts: list[tuple[int, int]]) -> None:
    cache: SizedCache[int, np.ndarray] = SizedCache(10_000)
    for key, length in puts:
        value = np.zeros(length, np.uint8)
        cache.put(key, value)
        assert cache.get(key) is value
        assert cache.size == sum(size_of(cache.get(k)) for k in cache)
        assert cache.size <= 10_000


def test_what_was_used_lately_stays() -> None:
    cache: SizedCache[str, bytes] = SizedCache(100, len)
    for name in "abc":
        cache.put(name, b"x" * 30)
    cache.get("a")
    cache.put("d", b"x" * 30)
    assert "a" in cache and "b" not in cache and cache.size == 90
    cache.put("enormous", b"x" * 500)
    assert list(cache) == ["enormous"] and cache.size == 500
    cache.put("e", b"")
    assert list(cache) == ["e"] and cache.size == 0


def test_what_was_missing_is_looked_for_again() -> None:
    asked: list[str] = []
    shelf: dict[str, np.ndarray] = {}

    @cached_by_size(1)
    def read(name: str) -> np.ndarray | None:
        asked.append(name)
        return shelf.get(name)

    assert read("quay") is None and read("quay") is None and len(asked) == 2
    shelf["quay"] = np.zeros(3)
    assert read("quay") is read("quay") and len(asked) == 3


def test_bodies_are_bounded_by_bytes_however_they_are_asked_for(shot: Shot) -> None:
    limit = 1_000_000
    bodies = BodyStore(limit)
    needed = 0
    for number in range(40):
        shot.things["title"].body.depth = 0.1 + number * 0.01
        form = bake(shot).titles["title"].forms[0]
        for letter in bodies.named(form):
            body = bodies.get(letter.body)
            assert body is not None and body.position.base is None
            needed = max(needed, body.nbytes)
        assert bodies.size <= limit + 3 * needed
    assert bodies.size > 0
