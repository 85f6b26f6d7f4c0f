"""Order of characters of mixed direction on a line.

The implicit part of the Unicode Bidirectional Algorithm (UAX #9, rules P2-P3, W1-W7, N1-N2, I1-I2,
L1-L2); explicit embeddings and isolates are treated as neutral characters.
"""

from __future__ import annotations

import itertools
import unicodedata

_IGNORED = {"LRE", "RLE", "LRO", "RLO", "PDF", "LRI", "RLI", "FSI", "PDI", "BN"}


def levels(line: str) -> list[int]:
    """Embedding level of each character: even ones run left to right, odd ones right to left.

    >>> levels("ab \\u05d0\\u05d1")
    [0, 0, 0, 1, 1]
    """
    kinds = [unicodedata.bidirectional(c) or "L" for c in line]
    kinds = ["ON" if kind in _IGNORED else kind for kind in kinds]
    strong = next((kind for kind in kinds if kind in ("L", "R", "AL")), "L")
    base = 0 if strong == "L" else 1
    around = "L" if base == 0 else "R"
    kinds = _weak(kinds, around)
    kinds = _neutral(kinds, around, base)
    found = []
    for kind in kinds:
        if base == 0:
            found.append({"R": 1, "AN": 2, "EN": 2}.get(kind, 0))
        else:
            found.append({"L": 2, "EN": 2, "AN": 2}.get(kind, 1))
    # Spaces at the end of a line stand where the line ends.
    for i in range(len(line) - 1, -1, -1):
        if not line[i].isspace():
            break
        found[i] = base
    return found


def _weak(kinds: list[str], around: str) -> list[str]:
    kinds = list(kinds)
    last = around
    for i, kind in enumerate(kinds):
        if kind == "NSM":
            kinds[i] = kinds[i - 1] if i else around
    for i, kind in enumerate(kinds):
        if kind in ("L", "R", "AL"):
            last = kind
        elif kind == "EN" and last == "AL":
            kinds[i] = "AN"
    kinds = ["R" if kind == "AL" else kind for kind in kinds]
    for i in range(1, len(kinds) - 1):
        before, kind, after = kinds[i - 1 : i + 2]
        if before == after and (
            (kind == "ES" and before == "EN") or (kind == "CS" and before in ("EN", "AN"))
        ):
            kinds[i] = before
    for i, kind in enumerate(kinds):
        if kind == "ET" and i and kinds[i - 1] == "EN":
            kinds[i] = "EN"
    for i in range(len(kinds) - 2, -1, -1):
        if kinds[i] == "ET" and kinds[i + 1] == "EN":
            kinds[i] = "EN"
    kinds = ["ON" if kind in ("ES", "ET", "CS") else kind for kind in kinds]
    last = around
    for i, kind in enumerate(kinds):
        if kind in ("L", "R"):
            last = kind
        elif kind == "EN" and last == "L":
            kinds[i] = "L"
    return kinds


def _neutral(kinds: list[str], around: str, base: int) -> list[str]:
    kinds = list(kinds)

    def side(kind: str) -> str:
        return "R" if kind in ("R", "AN", "EN") else "L"

    start = 0
    for solid, group in itertools.groupby(kinds, key=lambda kind: kind in ("L", "R", "EN", "AN")):
        length = len(list(group))
        if not solid:
            before = side(kinds[start - 1]) if start else around
            after = side(kinds[start + length]) if start + length < len(kinds) else around
            kinds[start : start + length] = [before if before == after else around] * length
        start += length
    return kinds


def visual_order(found: list[int]) -> list[int]:
    """Places of items of these levels from left to right (rule L2)."""
    order = list(range(len(found)))
    for level in range(max(found, default=0), 0, -1):
        i = 0
        while i < len(order):
            if found[order[i]] >= level:
                j = i
                while j < len(order) and found[order[j]] >= level:
                    j += 1
                order[i:j] = order[i:j][::-1]
                i = j
            else:
                i += 1
    return order
