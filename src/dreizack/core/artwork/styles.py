"""How a drawing's shapes are painted: attributes, ``style`` and simple style sheets, handed down."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from xml.etree.ElementTree import Element

from .lengths import Viewport, length
from .style_sheet import StyleSheet

MARKERS = ("marker", "marker-start", "marker-mid", "marker-end")
_READ = (
    "fill",
    "stroke",
    "stroke-width",
    "fill-rule",
    "clip-rule",
    "stroke-linecap",
    "stroke-linejoin",
    "stroke-miterlimit",
    "stroke-dasharray",
    "vector-effect",
    "display",
    "visibility",
    "clip-path",
    "mask",
    "filter",
    "stop-color",
    "color",
    "opacity",
    "fill-opacity",
    "stroke-opacity",
    "transform",
    "marker",
    "marker-start",
    "marker-mid",
    "marker-end",
)


@dataclass(frozen=True)
class Style:
    """What holds at an element; what is not handed down is reset below it."""

    fill: str | None = "black"
    stroke: str | None = None
    stroke_width: float = 1.0
    even_odd: bool = False
    cap: str = "butt"
    join: str = "miter"
    mitre: float = 4.0
    colour: str = "black"
    hidden: bool = False
    unseen: bool = False
    dashed: bool = False
    clip: str = ""
    clip_even_odd: bool = False
    mask: bool = False
    filter: bool = False
    stop: str | None = None
    transform: str = ""
    keeps_width: bool = False
    marked: bool = False

    def below(self, element: Element, sheet: StyleSheet, viewport: Viewport) -> Style:
        """The style of an element inside one of this style: attributes, then sheets, then ``style``."""
        own = {name: value for name in _READ if (value := element.get(name)) is not None}
        own.update(sheet.of(element))
        seen = own.get("visibility", "inherit")
        found = replace(
            self,
            # What is not displayed is gone with all in it; what is unseen may hold what is seen.
            hidden=own.get("display") == "none",
            unseen=self.unseen if seen == "inherit" else seen in ("hidden", "collapse"),
            mask="mask" in own and own["mask"] != "none",
            filter="filter" in own and own["filter"] != "none",
            clip=_named(own.get("clip-path", "")),
            stop=own.get("stop-color", "black"),
            transform=own.get("transform", ""),
            keeps_width=own.get("vector-effect") == "non-scaling-stroke",
            marked=any(own.get(name, "none") != "none" for name in MARKERS) or self.marked,
        )
        colour = own.get("color", self.colour)
        changes: dict[str, object] = {"colour": colour}
        for name, key in (("fill", "fill"), ("stroke", "stroke")):
            if name in own and own[name] != "inherit":
                value = colour if own[name] == "currentColor" else own[name]
                changes[key] = None if value == "none" else value
            if own.get(f"{name}-opacity") in ("0", "0%") or own.get("opacity") in ("0", "0%"):
                changes[key] = None
        if "stroke-width" in own:
            wide = length(own["stroke-width"], viewport, "both")
            changes["stroke_width"] = self.stroke_width if wide is None else wide
        if "fill-rule" in own:
            changes["even_odd"] = own["fill-rule"] == "evenodd"
        changes["cap"], changes["join"] = (
            own.get("stroke-linecap", self.cap),
            own.get("stroke-linejoin", self.join),
        )
        if "clip-rule" in own:
            changes["clip_even_odd"] = own["clip-rule"] == "evenodd"
        limit = length(own.get("stroke-miterlimit", ""), viewport, "both")
        changes["mitre"] = self.mitre if limit is None else max(1.0, limit)
        if "stroke-dasharray" in own:
            changes["dashed"] = own["stroke-dasharray"] not in ("none", "0")
        return replace(found, **changes)  # type: ignore[arg-type]


def _named(text: str) -> str:
    found = re.match(r"url\(\s*['\"]?#([^)'\"]+)", text)
    return found[1] if found else ""
