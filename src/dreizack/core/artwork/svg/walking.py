"""Shapes of a drawing, found by walking its tree."""

from __future__ import annotations

import math
from collections import Counter
from xml.etree.ElementTree import Element

import numpy as np
import pathops
from numpy.typing import NDArray

from ...lettering.union import combined, simplified
from ...sandbox import Unreadable
from ..colours import srgb
from ..pen import draw_path
from ..styles import Sheet, Style, parse_sheet
from .pieces import Shape
from .transforms import transform
from .tree import reference, shift, tag_of

Floats = NDArray[np.float64]

MAX_POINTS = 400_000
MAX_SHAPES = 20_000
MAX_DEPTH = 60

# What is not painted where it stands.
_UNSEEN = {
    "defs",
    "symbol",
    "clipPath",
    "mask",
    "marker",
    "pattern",
    "linearGradient",
    "radialGradient",
    "style",
    "metadata",
    "title",
    "desc",
    "namedview",
    "filter",
    "script",
    "",
}
_CAPS = {
    "butt": pathops.LineCap.BUTT_CAP,
    "round": pathops.LineCap.ROUND_CAP,
    "square": pathops.LineCap.SQUARE_CAP,
}
_JOINS = {
    "miter": pathops.LineJoin.MITER_JOIN,
    "round": pathops.LineJoin.ROUND_JOIN,
    "bevel": pathops.LineJoin.BEVEL_JOIN,
}


class Walk:
    """Walks the tree once; shapes come out in painting order, in the drawing's own units, y down."""

    def __init__(self, root: Element) -> None:
        self.ids = {element.get("id"): element for element in root.iter() if element.get("id")}
        self.sheet: Sheet = parse_sheet("".join(e.text or "" for e in root.iter() if tag_of(e) == "style"))
        self.left_out: Counter[str] = Counter()
        self.shapes: list[Shape] = []
        self.points = 0
        self.groups = 0
        self._walk(root, np.eye(3), Style(), None, 0, 0)

    def _walk(
        self,
        element: Element,
        matrix: Floats,
        style: Style,
        clip: pathops.Path | None,
        group: int,
        depth: int,
    ) -> None:
        if depth > MAX_DEPTH:
            raise Unreadable(f"the drawing is nested more than {MAX_DEPTH} deep")
        tag = tag_of(element)
        if tag in _UNSEEN:
            if tag == "script":
                self.left_out["scripts"] += 1
            return
        style = style.below(element, tag, self.sheet)
        if style.hidden:
            return
        self._note_unread(style)
        matrix = matrix @ transform(element.get("transform", ""))
        if style.clip:
            clip = self._clipped(style.clip, matrix, clip)
        if tag in ("g", "a", "svg", "switch"):
            if tag == "svg" and depth:
                matrix = matrix @ shift(element)
            self.groups += 1
            mine = self.groups
            for child in element:
                self._walk(child, matrix, style, clip, mine, depth + 1)
        elif tag == "use":
            target = self.ids.get(reference(element))
            if target is None:
                self.left_out["references to other files"] += 1
                return
            inner = matrix @ shift(element)
            if tag_of(target) == "symbol":
                for child in target:
                    self._walk(child, inner, style, clip, group, depth + 1)
            else:
                self._walk(target, inner, style, clip, group, depth + 1)
        elif tag in ("path", "rect", "circle", "ellipse", "line", "polyline", "polygon"):
            self._add(element, tag, matrix, style, clip, group)
        else:
            kinds = {
                "text": "text (turn it into outlines first)",
                "image": "pictures",
                "foreignObject": "foreign objects",
            }
            self.left_out[kinds.get(tag, f"elements called '{tag[:30]}'")] += 1

    def _note_unread(self, style: Style) -> None:
        if style.mask:
            self.left_out["masks"] += 1
        if style.filter:
            self.left_out["filters"] += 1
        if style.dashed:
            self.left_out["dashes"] += 1

    def _add(
        self, element: Element, tag: str, matrix: Floats, style: Style, clip: pathops.Path | None, group: int
    ) -> None:
        path = self._drawn(element, tag, matrix)
        if path is None:
            return
        name = element.get("id") or tag
        for paint, filled in ((style.fill, True), (style.stroke, False)):
            if paint is None or (filled and tag == "line"):
                continue
            colour = self._colour(paint)
            if colour is None:
                continue
            area = pathops.Path(path)
            if filled:
                area.fillType = pathops.FillType.EVEN_ODD if style.even_odd else pathops.FillType.WINDING
            else:
                width = style.stroke_width * math.sqrt(abs(np.linalg.det(matrix[:2, :2])))
                if width <= 0:
                    continue
                area.stroke(
                    width,
                    _CAPS.get(style.cap, _CAPS["butt"]),
                    _JOINS.get(style.join, _JOINS["miter"]),
                    style.mitre,
                )
            try:
                if filled and clip is None and not style.even_odd and len(list(area.contours)) == 1:
                    # One contour needs no uniting with itself yet, only the right direction.
                    if area.clockwise:
                        area.reverse()
                else:
                    area.convertConicsToQuads()
                    area = simplified(area)
                if clip is not None:
                    area = combined(area, clip, pathops.PathOp.INTERSECTION)
            except pathops.PathOpsError:
                self.left_out["shapes too tangled to be flattened"] += 1
                continue
            if abs(area.area) > 1e-9:
                self.shapes.append(Shape(area, colour, name, group))
        if len(self.shapes) > MAX_SHAPES:
            raise Unreadable(f"the drawing has more than {MAX_SHAPES} shapes; unite or simplify some")

    def _drawn(self, element: Element, tag: str, matrix: Floats) -> pathops.Path | None:
        path = pathops.Path()
        try:
            self.points += draw_path(element, tag, matrix, path, MAX_POINTS - self.points)
        except OverflowError:
            raise Unreadable(f"the drawing has more than {MAX_POINTS} points; simplify it") from None
        except ValueError:
            self.left_out["shapes with numbers that cannot be read"] += 1
            return None
        return path

    def _colour(self, paint: str) -> tuple[float, float, float] | None:
        if paint.startswith("url("):
            target = self.ids.get(paint[4:].split(")")[0].strip("'\" #"))
            if target is None:
                return None
            kind = tag_of(target)
            if kind not in ("linearGradient", "radialGradient"):
                self.left_out["patterns"] += 1
                return (0.2, 0.2, 0.2)
            self.left_out["gradients (their middle colour is used)"] += 1
            for _ in range(8):
                stops = [s for s in target if tag_of(s) == "stop"]
                if stops or reference(target) not in self.ids:
                    break
                target = self.ids[reference(target)]
            found = [srgb(Style().below(stop, "stop", self.sheet).stop) for stop in stops]
            known = [c for c in found if c is not None]
            return tuple(float(x) for x in np.mean(known, axis=0)) if known else (0.2, 0.2, 0.2)  # type: ignore[return-value]
        return srgb(paint)

    def _clipped(self, name: str, matrix: Floats, clip: pathops.Path | None) -> pathops.Path | None:
        target = self.ids.get(name)
        if target is None or tag_of(target) != "clipPath":
            return clip
        if target.get("clipPathUnits") == "objectBoundingBox":
            self.left_out["clip paths in units of their object"] += 1
            return clip
        area = pathops.Path()
        inner = matrix @ transform(target.get("transform", ""))
        for child in target:
            tag = tag_of(child)
            place = inner @ transform(child.get("transform", ""))
            if tag == "use":
                place, child = place @ shift(child), self.ids.get(reference(child), child)
                tag = tag_of(child)
                place = place @ transform(child.get("transform", ""))
            if tag in ("path", "rect", "circle", "ellipse", "polyline", "polygon"):
                path = self._drawn(child, tag, place)
                if path is not None:
                    style = Style().below(child, tag, self.sheet)
                    path.fillType = pathops.FillType.EVEN_ODD if style.even_odd else pathops.FillType.WINDING
                    path = simplified(path)
                    area = combined(area, path, pathops.PathOp.UNION)
        return area if clip is None else combined(area, clip, pathops.PathOp.INTERSECTION)
