"""Colour decisions (ASC Color Decision List 1.2): slope, offset, power and saturation as XML."""

from __future__ import annotations

from typing import Any
from xml.sax.saxutils import quoteattr

import defusedxml.ElementTree as ElementTree

from ..document import Shot, without_movers
from ..document.optics import Grade

MAX_BYTES = 1_000_000
NODES = {"Slope": "slope", "Offset": "offset", "Power": "power"}


class CDLError(ValueError):
    """A file that holds no colour decision we can take; the text says why."""


def write_cdl(shot: Shot) -> str:
    """The grade of a shot as a colour correction; its contrast and warmth, which a list cannot say, are told
    in its description."""
    grade = shot.optics.grade
    lines = []
    for node, name in NODES.items():
        values = " ".join(f"{getattr(grade, f'{name}_{c}'):.6f}" for c in "rgb")
        lines.append(f"      <{node}>{values}</{node}>\n")
    nodes = "".join(lines)
    left = [
        f"{name} {value:g}"
        for name, value, plain in (("contrast", grade.contrast, 1.0), ("warmth", grade.warmth, 0.0))
        if value != plain
    ]
    told = f"    <Description>without {', '.join(left)}</Description>\n" if left else ""
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n'
        '<ColorDecisionList xmlns="urn:ASC:CDL:v1.2">\n  <ColorDecision>\n'
        f"    <ColorCorrection id={quoteattr(shot.name)}>\n{told}"
        f"    <SOPNode>\n{nodes}    </SOPNode>\n"
        f"    <SatNode>\n      <Saturation>{grade.saturation:.6f}</Saturation>\n    </SatNode>\n"
        "    </ColorCorrection>\n  </ColorDecision>\n</ColorDecisionList>\n"
    )


def read_cdl(data: bytes) -> dict[str, float]:
    """Values of the grade from the first correction of a .cdl, .cc or .ccc file; CDLError says what is wrong,
    and where a value is beyond what a grade takes."""
    if len(data) > MAX_BYTES:
        raise CDLError("the file is larger than a list of colour decisions is")
    try:
        root = ElementTree.fromstring(data)
    except Exception:
        # Whatever the parser calls it: broken, or with entities that would grow.
        raise CDLError("this is no XML of colour decisions, or it is damaged") from None
    correction = next((one for one in root.iter() if _name(one) == "ColorCorrection"), None)
    if correction is None:
        raise CDLError("there is no ColorCorrection in this file")
    found: dict[str, float] = {}
    for element in correction.iter():
        name = NODES.get(_name(element))
        if name is not None:
            values = _numbers(element, 3)
            found |= {f"{name}_{c}": value for c, value in zip("rgb", values, strict=True)}
        elif _name(element) == "Saturation":
            (found["saturation"],) = _numbers(element, 1)
    if not found:
        raise CDLError("its ColorCorrection has neither slope, offset, power nor saturation")
    try:
        Grade.model_validate(found)
    except ValueError as why:
        first = (
            why.errors(include_url=False)[0] if hasattr(why, "errors") else {"loc": ("",), "msg": str(why)}
        )
        raise CDLError(f"{first['loc'][0]}: {first['msg']}") from None
    return found


def graded_by(shot: Shot, values: dict[str, float]) -> list[dict[str, Any]]:
    """The edit that gives a shot these decisions and nothing else of a grade."""
    grade = Grade.model_validate(values).model_dump(mode="json")
    return [
        *without_movers(shot, "/optics/grade/"),
        {"op": "replace", "path": "/optics/grade", "value": grade},
    ]


def _name(element: Any) -> str:
    return str(element.tag).rpartition("}")[2]


def _numbers(element: Any, count: int) -> list[float]:
    words = (element.text or "").split()
    try:
        values = [float(word) for word in words]
    except ValueError:
        values = []
    if len(values) != count:
        raise CDLError(f"{_name(element)} holds “{(element.text or '').strip()[:60]}”, not {count} numbers")
    return values
