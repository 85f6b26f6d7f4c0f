"""Circles among values that follow each other, and among things that hang on each other."""

from __future__ import annotations

from collections.abc import Callable, Iterable


def circle(starts: Iterable[str], after: Callable[[str], Iterable[str]]) -> list[str] | None:
    """A way that leads back to where it began, first and last the same; None where there is none.

    >>> circle("abc", lambda name: {"a": ["b"], "b": ["c"], "c": ["b"]}[name])
    ['b', 'c', 'b']
    """
    done: set[str] = set()
    for start in starts:
        # Depth first, without recursion: chains may be as long as there are values.
        way: list[str] = []
        open_ends = [iter([start])]
        while open_ends:
            name = next(open_ends[-1], None)
            if name is None:
                open_ends.pop()
                if way:
                    done.add(way.pop())
            elif name in way:
                return [*way[way.index(name) :], name]
            elif name not in done:
                way.append(name)
                open_ends.append(iter(after(name)))
    return None
