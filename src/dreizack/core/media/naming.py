"""Names of delivered files by a rule: text with places for what is delivered."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import asdict, dataclass
from datetime import datetime

from .order import OrderError

# What a rule may have places for, in braces.
PLACES = ("production", "name", "version", "size", "format", "quality", "frames", "date", "time")
RULE = "{production}-{name}-{version}-{size}-{date}-{time}"
LONGEST = 160


@dataclass(frozen=True)
class Facts:
    """What is delivered, in words."""

    production: str
    name: str
    version: str
    size: str
    format: str
    quality: str
    frames: str
    date: str
    time: str


def facts_of(
    production: str,
    name: str,
    version: str,
    size: tuple[int, int],
    written: str,
    quality: str,
    frames: tuple[int, int],
    when: datetime,
) -> Facts:
    """The facts of a delivery that was ready at a time."""
    return Facts(
        production,
        name,
        version,
        f"{size[0]}x{size[1]}",
        written,
        quality,
        f"{frames[0]}-{frames[1]}",
        when.strftime("%Y%m%d"),
        when.strftime("%H%M"),
    )


def ruled_name(rule: str, facts: Facts) -> str:
    """A file's name, without its suffix; OrderError where the rule has a place for what there is not.

    What cannot stand in a name of any system becomes a hyphen; places without anything take theirs along.

    >>> facts = Facts("Slack Water", "Main title", "", "1920x1080", "mp4", "good", "0-9", "20260101", "0900")
    >>> ruled_name("{production}-{name}-{version}-{size}", facts)
    'slack-water-main-title-1920x1080'
    """
    check_rule(rule)
    told: Mapping[str, str] = asdict(facts)
    made = re.sub(r"\{(\w+)\}", lambda found: told[found[1]], rule)
    # Letters of every script may stand in names, signs that systems give a meaning may not.
    plain = re.sub(r"[^\w.]+", "-", made.lower()).strip("-._")
    plain = re.sub(r"-*_-*", "_", re.sub(r"\.{2,}", ".", plain))
    return plain[:LONGEST].strip("-._") or "delivery"


def check_rule(rule: str) -> None:
    """OrderError where a rule is none."""
    if not rule.strip() or len(rule) > LONGEST:
        raise OrderError(f"a rule for names has 1 to {LONGEST} characters")
    for place in re.findall(r"\{([^{}]*)\}", rule):
        if place not in PLACES:
            there = ", ".join(f"{{{known}}}" for known in PLACES)
            raise OrderError(f"a name has no place for '{place[:40]}'; there are {there}")
    if re.search(r"[{}]", re.sub(r"\{\w+\}", "", rule)):
        raise OrderError("a brace in the rule is not closed, or not opened")
