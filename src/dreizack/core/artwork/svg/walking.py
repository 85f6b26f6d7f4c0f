"""Shapes of a drawing, found by walking its tree."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, replace
from typing import Literal
from xml.etree.ElementTree import Element

import numpy as np
import pathops
from numpy.typing import NDArray

from ...lettering.union import combined, simplified
from ...sandbox import Unreadable
from ..colours import srgb
from ..lengths import Viewport, length
from ..pen import draw_path
from ..style_sheet import StyleSheet
from ..styles import Style
from .pieces import SIDE, Shape
from .transforms import transform
from .tree import reference, shift, tag_of
from .viewports import UNKNOWN, Placed, root_viewport, within

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


SIZES: tuple[tuple[str, Literal["x", "y"]], ...] = (("width", "x"), ("height", "y"))


def _chosen(switch: Element) -> list[Element]:
    """Of what a switch offers, what is shown: the first for everybody, or for readers of English (SVG 2,
    5.7)."""
    for child in switch:
        languages = child.get("systemLanguage")
        plain = languages is None or any(one.strip().lower().startswith("en") for one in languages.split(","))
        if tag_of(child) and plain and not child.get("requiredExtensions"):
            return [child]
    return []


@dataclass(frozen=True)
class State:
    """What holds at an element: its coordinates (3, 3), how it is painted, what it is cut off at, what shares
    are counted of; which group it is in, and how deep."""

    matrix: Floats
    style: Style
    clip: pathops.Path | None
    viewport: Viewport
    group: int = 0
    depth: int = 0

    def inside(self, seen: Placed) -> State:
        """What holds inside a viewport: cut off at its box."""
        x, y, width, height = seen.box
        corners = np.array([[x, y, 1], [x + width, y, 1], [x + width, y + height, 1], [x, y + height, 1]])
        box = pathops.Path()
        for number, (px, py) in enumerate((corners @ self.matrix.T)[:, :2].tolist()):
            (box.lineTo if number else box.moveTo)(px, py)
        box.close()
        if self.clip is not None:
            box = combined(box, self.clip, pathops.PathOp.INTERSECTION)
        return replace(self, matrix=self.matrix @ seen.matrix, clip=box, viewport=seen.viewport)


class Walk:
    """Walks the tree once; shapes come out in painting order, in the drawing's own units, y down."""

    def __init__(self, root: Element) -> None:
        self.ids = {element.get("id"): element for element in root.iter() if element.get("id")}
        self.left_out: Counter[str] = Counter()
        self.sheet = StyleSheet(root, "".join(e.text or "" for e in root.iter() if tag_of(e) == "style"))
        for selector in self.sheet.unread:
            self.left_out[f"rules for '{selector}'"] += 1
        self.shapes: list[Shape] = []
        self.points = 0
        self.groups = 0
        whole = root_viewport(root)
        self._walk(root, State(whole.matrix, Style(), None, whole.viewport))

    def _walk(self, element: Element, at: State) -> None:
        if at.depth > MAX_DEPTH:
            raise Unreadable(f"the drawing is nested more than {MAX_DEPTH} deep")
        tag = tag_of(element)
        if tag in _UNSEEN:
            if tag == "script":
                self.left_out["scripts"] += 1
            return
        style = at.style.below(element, self.sheet, at.viewport)
        if style.hidden:
            return
        self._note_unread(style)
        at = replace(at, style=style, matrix=at.matrix @ transform(style.transform))
        if style.clip:
            at = replace(at, clip=self._clipped(style.clip, at))
        if tag in ("g", "a", "svg", "switch"):
            if tag == "svg" and at.depth:
                seen = within(element, at.viewport)
                if seen is None:
                    return
                at = at.inside(seen)
            self.groups += 1
            below = replace(at, group=self.groups, depth=at.depth + 1)
            for child in _chosen(element) if tag == "switch" else element:
                self._walk(child, below)
        elif tag == "use":
            self._use(element, at)
        elif tag in ("path", "rect", "circle", "ellipse", "line", "polyline", "polygon"):
            if not style.unseen:
                self._add(element, tag, at)
        else:
            kinds = {
                "text": "text (turn it into outlines first)",
                "image": "pictures",
                "foreignObject": "foreign objects",
            }
            self.left_out[kinds.get(tag, f"elements called '{tag[:30]}'")] += 1

    def _use(self, element: Element, at: State) -> None:
        """Something shown once more (SVG 2, 5.6)."""
        target = self.ids.get(reference(element))
        if target is None:
            self.left_out["references to other files"] += 1
            return
        at = replace(at, matrix=at.matrix @ shift(element, at.viewport), depth=at.depth + 1)
        if tag_of(target) != "symbol":
            self._walk(target, at)
            return
        at = replace(at, style=at.style.below(target, self.sheet, at.viewport))
        width, height = (
            length(element.get(name) or target.get(name) or "100%", at.viewport, along)
            for name, along in SIZES
        )
        seen = within(target, at.viewport, (width or 0.0, height or 0.0), shifted=False)
        if seen is None or at.style.hidden:
            return
        for child in target:
            self._walk(child, at.inside(seen))

    def _note_unread(self, style: Style) -> None:
        if style.mask:
            self.left_out["masks"] += 1
        if style.filter:
            self.left_out["filters"] += 1
        if style.dashed:
            self.left_out["dashes"] += 1
        if style.marked:
            self.left_out["markers"] += 1

    def _add(self, element: Element, tag: str, at: State) -> None:
        style, clip = at.style, at.clip
        path = self._drawn(element, tag, at.matrix, at.viewport)
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
                outlined = self._stroked(element, tag, at)
                if outlined is None:
                    continue
                area = outlined
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
                self.shapes.append(Shape(area, colour, name, at.group))
        if len(self.shapes) > MAX_SHAPES:
            raise Unreadable(f"the drawing has more than {MAX_SHAPES} shapes; unite or simplify some")

    def _stroked(self, element: Element, tag: str, at: State) -> pathops.Path | None:
        """The area of a stroke: drawn where it has its width, at a size at which arithmetic is exact, then
        placed (so that what is scaled unevenly has an uneven line)."""
        style, eye = at.style, np.eye(3)
        drawn_in, after = (at.matrix, eye) if style.keeps_width else (eye, at.matrix)
        path = self._drawn(element, tag, drawn_in, at.viewport)
        if path is None or style.stroke_width <= 0:
            return None
        left, top, right, bottom = path.bounds
        scale = SIDE / max(right - left, bottom - top, style.stroke_width, 1e-9)
        middle = np.array([[1, 0, (left + right) / 2], [0, 1, (top + bottom) / 2], [0, 0, 1.0]])
        large = path.transform(scale, 0, 0, scale, -scale * middle[0, 2], -scale * middle[1, 2])
        large.stroke(
            style.stroke_width * scale,
            _CAPS.get(style.cap, _CAPS["butt"]),
            _JOINS.get(style.join, _JOINS["miter"]),
            style.mitre,
        )
        large.convertConicsToQuads()
        back = after @ middle @ np.diag([1 / scale, 1 / scale, 1])
        (a, c, e), (b, d, f) = back[:2].tolist()
        return large.transform(a, b, c, d, e, f)

    def _drawn(self, element: Element, tag: str, matrix: Floats, viewport: Viewport) -> pathops.Path | None:
        path = pathops.Path()
        try:
            self.points += draw_path(element, tag, matrix, path, MAX_POINTS - self.points, viewport)
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
            found = [srgb(Style().below(stop, self.sheet, UNKNOWN).stop) for stop in stops]
            known = [c for c in found if c is not None]
            return tuple(float(x) for x in np.mean(known, axis=0)) if known else (0.2, 0.2, 0.2)  # type: ignore[return-value]
        return srgb(paint)

    def _clipped(self, name: str, at: State) -> pathops.Path | None:
        matrix, clip, viewport = at.matrix, at.clip, at.viewport
        target = self.ids.get(name)
        if target is None or tag_of(target) != "clipPath":
            return clip
        if target.get("clipPathUnits") == "objectBoundingBox":
            self.left_out["clip paths in units of their object"] += 1
            return clip
        area = pathops.Path()
        inherited = Style().below(target, self.sheet, viewport)
        inner = matrix @ transform(inherited.transform)
        for child in target:
            tag = tag_of(child)
            place = inner @ transform(child.get("transform", ""))
            if tag == "use":
                place, child = place @ shift(child, viewport), self.ids.get(reference(child), child)
                tag = tag_of(child)
                place = place @ transform(child.get("transform", ""))
            if tag in ("path", "rect", "circle", "ellipse", "polyline", "polygon"):
                path = self._drawn(child, tag, place, viewport)
                style = inherited.below(child, self.sheet, viewport)
                if path is not None and not style.hidden and not style.unseen:
                    rule = style.clip_even_odd
                    path.fillType = pathops.FillType.EVEN_ODD if rule else pathops.FillType.WINDING
                    path = simplified(path)
                    area = combined(area, path, pathops.PathOp.UNION)
        return area if clip is None else combined(area, clip, pathops.PathOp.INTERSECTION)
