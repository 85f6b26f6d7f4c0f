"""How a drawing's shapes are painted: attributes, ``style`` and simple style sheets, handed down."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from xml.etree.ElementTree import Element

Sheet = dict[str, dict[str, str]]

_RULE = re.compile(r"([^{}]+)\{([^{}]*)\}")
_COMMENT = re.compile(r"/\*.*?\*/", re.DOTALL)
_READ = (
    "fill",
    "stroke",
    "stroke-width",
    "fill-rule",
    "stroke-linecap",
    "stroke-linejoin",
    "stroke-miterlimit",
    "stroke-dasharray",
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
)


def parse_sheet(text: str) -> Sheet:
    """Rules by simple selector: ``.class``, ``#id``, ``tag``; others are passed over."""
    sheet: Sheet = {}
    for selectors, body in _RULE.findall(_COMMENT.sub("", text[:2_000_000])):
        for selector in selectors.split(","):
            sheet.setdefault(selector.strip(), {}).update(_declared(body))
    return sheet


def _declared(text: str) -> dict[str, str]:
    pairs = (part.split(":", 1) for part in text.split(";") if ":" in part)
    return {name.strip(): value.replace("!important", "").strip() for name, value in pairs}


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
    dashed: bool = False
    clip: str = ""
    mask: bool = False
    filter: bool = False
    stop: str | None = None

    def below(self, element: Element, tag: str, sheet: Sheet) -> Style:
        """The style of an element inside one of this style (CSS Cascading, simplified: tag, class, id,
        style)."""
        own = {name: value for name in _READ if (value := element.get(name)) is not None}
        for selector in (
            tag,
            *(f".{c}" for c in (element.get("class") or "").split()),
            f"#{element.get('id')}",
        ):
            own.update(sheet.get(selector, {}))
        own.update(_declared(element.get("style") or ""))
        found = replace(
            self,
            hidden=own.get("display") == "none" or own.get("visibility") in ("hidden", "collapse"),
            mask="mask" in own and own["mask"] != "none",
            filter="filter" in own and own["filter"] != "none",
            clip=_named(own.get("clip-path", "")),
            stop=own.get("stop-color", "black"),
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
            changes["stroke_width"] = _length(own["stroke-width"], self.stroke_width)
        if "fill-rule" in own:
            changes["even_odd"] = own["fill-rule"] == "evenodd"
        changes["cap"], changes["join"] = (
            own.get("stroke-linecap", self.cap),
            own.get("stroke-linejoin", self.join),
        )
        changes["mitre"] = max(1.0, _length(own.get("stroke-miterlimit", ""), self.mitre))
        if "stroke-dasharray" in own:
            changes["dashed"] = own["stroke-dasharray"] not in ("none", "0")
        return replace(found, **changes)  # type: ignore[arg-type]


def _named(text: str) -> str:
    found = re.match(r"url\(\s*['\"]?#([^)'\"]+)", text)
    return found[1] if found else ""


def _length(text: str, fallback: float) -> float:
    found = re.match(r"\s*(-?[\d.]+(?:e-?\d+)?)\s*(px|pt|mm|cm|in)?", text)
    if not found:
        return fallback
    try:
        return (
            float(found[1])
            * {"px": 1, "pt": 4 / 3, "mm": 96 / 25.4, "cm": 960 / 25.4, "in": 96, None: 1}[found[2]]
        )
    except ValueError:
        return fallback
