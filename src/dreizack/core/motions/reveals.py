"""Things that are uncovered, and go, bit by bit."""

from __future__ import annotations

from collections.abc import Callable

from ..document import Bodied, Ease, Reveal, Shot, escaped
from ..document.operations import replaced
from .applying import Motion, Patch, keyed

THINGS = ("title", "mark", "mesh", "sheet")
EVEN = Ease(kind="cubic-bezier", x1=0.4, y1=0.2, x2=0.6, y2=0.8)
# Grains of a ragged edge, as a share of how large the thing is.
GRAIN = 0.3


def _uncovers(value: str, reveal: Reveal) -> Callable[[Shot, str, int, int], Patch]:
    def make(shot: Shot, name: str, start: int, length: int) -> Patch:
        thing = shot.things[name]
        assert isinstance(thing, Bodied)
        made = reveal.model_copy(update={"grain": min(max(GRAIN * thing.extent, 0.002), 50.0)})
        return [
            replaced(f"/things/{escaped(name)}/reveal", made.model_dump(mode="json")),
            keyed(f"/things/{name}/reveal/{value}", ((0, 0), (1, 1)), start, length, EVEN),
        ]

    return make


SOFT = Reveal(softness=0.12)
BURNING = Reveal(softness=0.01, ragged=0.4, glow=9, width=0.05)

REVEALS = (
    Motion(
        "uncovered", "Uncovered", "An edge travels over it, and it is there.", THINGS, "arrival", 40,
        _uncovers("end", SOFT),
    ),
    Motion(
        "uncovered-from-the-middle", "Uncovered from the middle", "It is there from its middle outward.",
        THINGS, "arrival", 40, _uncovers("end", Reveal(runs="from the middle", softness=0.2)),
    ),
    Motion(
        "kindled", "Kindled", "A ragged edge, glowing, travels over it: it is there.", THINGS, "arrival",
        60, _uncovers("end", BURNING),
    ),
    Motion(
        "covered", "Covered", "An edge travels over it, and it is gone.", THINGS, "departure", 40,
        _uncovers("begin", SOFT),
    ),
    Motion(
        "consumed", "Consumed", "A ragged, glowing edge travels over it, and it is gone.", THINGS,
        "departure", 60, _uncovers("begin", BURNING),
    ),
)  # fmt: skip
