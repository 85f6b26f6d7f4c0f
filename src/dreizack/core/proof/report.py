"""Findings as a page that can be sent along."""

from __future__ import annotations

import html
from dataclasses import dataclass

from .checks import Finding


@dataclass(frozen=True)
class Place:
    """A finding and where it is: version, shot, thing, frame."""

    version: str
    shot: str
    thing: str
    frame: int
    kind: str
    matters: str
    says: str
    picture: str = ""

    @classmethod
    def of(
        cls,
        one: Finding,
        frame: int | None = None,
        shot: str = "",
        version: str = "",
        picture: str = "",
    ) -> Place:
        """The place of a finding in a shot, or in a sequence at a ``frame`` of it; ``picture`` is the address
        of what is seen there."""
        at = one.frame if frame is None else frame
        return cls(version, shot, one.thing, at, one.kind, one.matters, one.says, picture)


PAGE = """<!doctype html>
<html lang="en"><meta charset="utf-8"><title>{title}</title>
<style>
body {{ font: 15px/1.5 system-ui, sans-serif; color: #1b1b1b;
  margin: 3em auto; padding: 0 1.5em; max-width: 60em }}
table {{ border-collapse: collapse; width: 100% }}
th, td {{ text-align: left; padding: .35em .8em .35em 0; border-bottom: 1px solid #ccc; vertical-align: top }}
td.frame {{ font-variant-numeric: tabular-nums; text-align: right }}
.fault {{ color: #b3261e; font-weight: 600 }}
</style>
<h1>{title}</h1>
<p>{count}</p>
{table}
</html>
"""


def report(name: str, places: list[Place]) -> str:
    """A page (HTML) of findings; every text in it is escaped."""
    title = f"Proof of {name}"
    count = counted(places)
    head = "".join(f"<th>{word}</th>" for word in ("", "version", "shot", "thing", "frame", "", "what"))
    rows = "".join(
        f'<tr><td class="{place.matters}">{place.matters}</td>'
        + "".join(f"<td>{html.escape(text)}</td>" for text in (place.version, place.shot, place.thing))
        + f'<td class="frame">{place.frame}</td><td>{_picture(place)}</td>'
        + f"<td>{html.escape(place.says)}</td></tr>"
        for place in places
    )
    table = f"<table><thead><tr>{head}</tr></thead><tbody>{rows}</tbody></table>" if places else ""
    return PAGE.format(title=html.escape(title), count=count, table=table)


def counted(places: list[Place]) -> str:
    """How many findings there are, in words."""
    faults = sum(place.matters == "fault" for place in places)
    return f"{len(places)} findings, {faults} of them faults." if places else "Nothing to look at."


def _picture(place: Place) -> str:
    if not place.picture:
        return ""
    return f'<img src="{html.escape(place.picture)}" alt="frame {place.frame}" width="240">'
