"""The pictures of a plate, read to follow something through them."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ...clips import plate_facts, plate_greys

# Which share of following something is reading the pictures.
READING = 0.3


def read_greys(clip: str, told: Callable[[float], None]) -> list[Any]:
    """All pictures of a plate, grey (height, width); ``told`` hears which share of all the work is done."""
    facts = plate_facts(clip)
    greys = []
    for grey in plate_greys(clip):
        greys.append(grey)
        told(READING * len(greys) / max(facts.frames if facts is not None else 1, len(greys)))
    return greys


def after_reading(told: Callable[[float], None]) -> Callable[[float], None]:
    """Tells the share of all the work for that of what comes after reading."""
    return lambda share: told(READING + (1 - READING) * share)
