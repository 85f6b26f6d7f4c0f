"""How large and how deep plain JSON data is, found without recursion."""

from __future__ import annotations

from typing import Any


def weight(tree: Any) -> int:
    """About how many bytes the data takes as JSON.

    >>> weight({"a": [1, "bc"]}) > weight([1])
    True
    """
    total, stack = 0, [tree]
    while stack:
        here = stack.pop()
        if isinstance(here, dict):
            total += 4 * len(here) + 2 + sum(map(len, here))
            stack.extend(here.values())
        elif isinstance(here, list):
            total += len(here) + 2
            stack.extend(here)
        else:
            total += len(here) + 2 if isinstance(here, str) else 6
    return total


def depth(tree: Any, most: int) -> int:
    """How deep objects and lists lie in one another; what is deeper than ``most`` counts as ``most + 1``.

    >>> depth(1, 9), depth([], 9), depth({"a": [[]]}, 9), depth([[[[]]]], 2)
    (0, 1, 3, 3)
    """
    level, here = 0, [tree]
    while level <= most:
        here = [value for value in here if isinstance(value, dict | list)]
        if not here:
            return level
        level += 1
        here = [inner for value in here for inner in (value.values() if isinstance(value, dict) else value)]
    return level
