"""Vector drawings (SVG 1.1 and 2) to pieces of a mark.

What is understood: paths and basic shapes, nested transforms, groups, ``use`` and ``symbol``, fill
rules, strokes (turned to outlines), clip paths, presentation attributes, ``style`` attributes and
simple style sheets. What is not is listed, so that nobody is surprised.
"""

from __future__ import annotations

import json
import math
import re
from collections import Counter
from dataclasses import asdict, dataclass, field
from typing import Any
from xml.etree.ElementTree import Element, ParseError

import numpy as np
import pathops
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring
from numpy.typing import NDArray

from ..confine import Confined, confined
from ..lettering.outlines import outline_from_path
from ..lettering.union import combined, simplified
from .colours import srgb
from .path_data import data_from_outline
from .pen import draw_path
from .styles import Sheet, Style, parse_sheet

Floats = NDArray[np.float64]

MAX_BYTES = 24_000_000
MAX_POINTS = 400_000
MAX_SHAPES = 20_000
MAX_PIECES = 400
MAX_DEPTH = 60
# Skia's path arithmetic is exact enough around this size.
SIDE = 4000.0

# What is not painted where it stands.
_UNSEEN = {
    "defs", "symbol", "clipPath", "mask", "marker", "pattern", "linearGradient", "radialGradient", "style", "metadata", "title", "desc",
    "namedview", "filter", "script", "",
}
_CAPS = {"butt": pathops.LineCap.BUTT_CAP, "round": pathops.LineCap.ROUND_CAP, "square": pathops.LineCap.SQUARE_CAP}
_JOINS = {"miter": pathops.LineJoin.MITER_JOIN, "round": pathops.LineJoin.ROUND_JOIN, "bevel": pathops.LineJoin.BEVEL_JOIN}


@dataclass(frozen=True)
class DrawnPiece:
    """One outline: ``path`` in units of the drawing's height, y up; ``colour`` is an index."""

    name: str
    path: str
    colour: int


@dataclass(frozen=True)
class Drawing:
    """What a file holds: pieces, the colours they are filled with (scene-linear), and what was left out."""

    pieces: list[DrawnPiece]
    colours: list[tuple[float, float, float]]
    left_out: list[str] = field(default_factory=list)
    points: int = 0


def read_svg(data: bytes, seconds: float = 20) -> Drawing:
    """Read a drawing in a confined process; Confined with a sentence for what is none."""
    if len(data) > MAX_BYTES:
        raise Confined(f"the drawing is larger than {MAX_BYTES // 1_000_000} MB; simplify it")
    found = json.loads(confined("dreizack.core.artwork.svg:read", data, what="drawing", seconds=seconds))
    pieces = [DrawnPiece(**piece) for piece in found.pop("pieces")]
    return Drawing(pieces, [(r, g, b) for r, g, b in found.pop("colours")], **found)


def read(data: bytes) -> bytes:
    """In the confined process: the drawing as JSON."""
    return json.dumps(asdict(drawing(data))).encode()


def drawing(data: bytes) -> Drawing:
    """Parse and flatten a drawing; ValueError says what is wrong with it."""
    try:
        root = fromstring(data, forbid_dtd=False, forbid_entities=True, forbid_external=True)
    except DefusedXmlException:
        raise ValueError("the drawing defines entities or refers to other files, which is not read; save it as plain SVG") from None
    except (ParseError, ValueError, LookupError) as why:
        raise ValueError(f"the drawing is no well-formed SVG ({why}); save it anew") from None
    if _tag(root) != "svg":
        raise ValueError("this is no SVG drawing: its outermost element is not 'svg'")
    return _Reader(root).drawing()


def _tag(element: Element) -> str:
    return element.tag.rsplit("}", 1)[-1] if isinstance(element.tag, str) else ""


@dataclass
class _Shape:
    path: pathops.Path
    colour: tuple[float, float, float]
    name: str
    group: int
    joined: bool = False


class _Reader:
    """Walks the tree once; shapes come out in painting order, in the drawing's own units, y down."""

    def __init__(self, root: Element) -> None:
        self.root = root
        self.ids = {element.get("id"): element for element in root.iter() if element.get("id")}
        self.sheet: Sheet = parse_sheet("".join(e.text or "" for e in root.iter() if _tag(e) == "style"))
        self.left_out: Counter[str] = Counter()
        self.shapes: list[_Shape] = []
        self.points = 0
        self.groups = 0

    def drawing(self) -> Drawing:
        self._walk(self.root, np.eye(3), Style(), None, 0, 0)
        if not self.shapes:
            raise ValueError("the drawing has nothing filled or stroked that could get a body" + self._why_empty())
        pieces = self._pieces()
        boxes = np.array([path.bounds for path, _, _ in pieces])
        low, high = boxes[:, :2].min(axis=0), boxes[:, 2:].max(axis=0)
        height = float(high[1] - low[1]) or float(high[0] - low[0]) or 1.0
        colours: list[tuple[float, float, float]] = []
        made = []
        for path, colour, name in pieces:
            placed = path.transform(1, 0, 0, -1, -float(low[0] + high[0]) / 2, float(high[1]))
            outline = outline_from_path(placed, 1 / height)
            if outline.empty:
                continue
            if colour not in colours:
                colours.append(colour)
            made.append(DrawnPiece(name[:80], data_from_outline(outline), min(colours.index(colour), 31)))
        if not made:
            raise ValueError("the drawing's shapes have no area that could get a body")
        if len(made) > MAX_PIECES:
            raise ValueError(f"the drawing falls into {len(made)} pieces; at most {MAX_PIECES} are read: group or unite some")
        if len(colours) > 32:
            self.left_out["colours beyond the 32nd"] = len(colours) - 32
        return Drawing(made, colours[:32], [f"{what} ({count}×)" if count > 1 else what for what, count in self.left_out.items()], self.points)

    def _why_empty(self) -> str:
        return f"; left out were: {', '.join(self.left_out)}" if self.left_out else ""

    # Walking

    def _walk(self, element: Element, matrix: Floats, style: Style, clip: pathops.Path | None, group: int, depth: int) -> None:
        if depth > MAX_DEPTH:
            raise ValueError(f"the drawing is nested more than {MAX_DEPTH} deep")
        tag = _tag(element)
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
                matrix = matrix @ _shift(element)
            self.groups += 1
            mine = self.groups
            for child in element:
                self._walk(child, matrix, style, clip, mine, depth + 1)
        elif tag == "use":
            target = self.ids.get(_reference(element))
            if target is None:
                self.left_out["references to other files"] += 1
                return
            inner = matrix @ _shift(element)
            if _tag(target) == "symbol":
                for child in target:
                    self._walk(child, inner, style, clip, group, depth + 1)
            else:
                self._walk(target, inner, style, clip, group, depth + 1)
        elif tag in ("path", "rect", "circle", "ellipse", "line", "polyline", "polygon"):
            self._add(element, tag, matrix, style, clip, group)
        else:
            kinds = {"text": "text (turn it into outlines first)", "image": "pictures", "foreignObject": "foreign objects"}
            self.left_out[kinds.get(tag, f"elements called '{tag[:30]}'")] += 1

    def _note_unread(self, style: Style) -> None:
        if style.mask:
            self.left_out["masks"] += 1
        if style.filter:
            self.left_out["filters"] += 1
        if style.dashed:
            self.left_out["dashes"] += 1

    def _add(self, element: Element, tag: str, matrix: Floats, style: Style, clip: pathops.Path | None, group: int) -> None:
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
                area.stroke(width, _CAPS.get(style.cap, _CAPS["butt"]), _JOINS.get(style.join, _JOINS["miter"]), style.mitre)
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
                self.shapes.append(_Shape(area, colour, name, group))
        if len(self.shapes) > MAX_SHAPES:
            raise ValueError(f"the drawing has more than {MAX_SHAPES} shapes; unite or simplify some")

    def _drawn(self, element: Element, tag: str, matrix: Floats) -> pathops.Path | None:
        path = pathops.Path()
        try:
            self.points += draw_path(element, tag, matrix, path, MAX_POINTS - self.points)
        except OverflowError:
            raise ValueError(f"the drawing has more than {MAX_POINTS} points; simplify it") from None
        except ValueError:
            self.left_out["shapes with numbers that cannot be read"] += 1
            return None
        return path

    def _colour(self, paint: str) -> tuple[float, float, float] | None:
        if paint.startswith("url("):
            target = self.ids.get(paint[4:].split(")")[0].strip("'\" #"))
            if target is None:
                return None
            kind = _tag(target)
            if kind not in ("linearGradient", "radialGradient"):
                self.left_out["patterns"] += 1
                return (0.2, 0.2, 0.2)
            self.left_out["gradients (their middle colour is used)"] += 1
            for _ in range(8):
                stops = [s for s in target if _tag(s) == "stop"]
                if stops or _reference(target) not in self.ids:
                    break
                target = self.ids[_reference(target)]
            found = [srgb(Style().below(stop, "stop", self.sheet).stop) for stop in stops]
            known = [c for c in found if c is not None]
            return tuple(float(x) for x in np.mean(known, axis=0)) if known else (0.2, 0.2, 0.2)  # type: ignore[return-value]
        return srgb(paint)

    def _clipped(self, name: str, matrix: Floats, clip: pathops.Path | None) -> pathops.Path | None:
        target = self.ids.get(name)
        if target is None or _tag(target) != "clipPath":
            return clip
        if target.get("clipPathUnits") == "objectBoundingBox":
            self.left_out["clip paths in units of their object"] += 1
            return clip
        area = pathops.Path()
        inner = matrix @ transform(target.get("transform", ""))
        for child in target:
            tag = _tag(child)
            place = inner @ transform(child.get("transform", ""))
            if tag == "use":
                place, child = place @ _shift(child), self.ids.get(_reference(child), child)
                tag = _tag(child)
                place = place @ transform(child.get("transform", ""))
            if tag in ("path", "rect", "circle", "ellipse", "polyline", "polygon"):
                path = self._drawn(child, tag, place)
                if path is not None:
                    style = Style().below(child, tag, self.sheet)
                    path.fillType = pathops.FillType.EVEN_ODD if style.even_odd else pathops.FillType.WINDING
                    path = simplified(path)
                    area = combined(area, path, pathops.PathOp.UNION)
        return area if clip is None else combined(area, clip, pathops.PathOp.INTERSECTION)

    # Pieces

    def _pieces(self) -> list[tuple[pathops.Path, tuple[float, float, float], str]]:
        """Shapes of one group and colour are one piece; what is painted over is cut away."""
        scale = SIDE / max(1e-9, *(max(abs(b) for b in shape.path.bounds) for shape in self.shapes))
        merged: list[_Shape] = []
        for shape in self.shapes:
            path = shape.path.transform(scale, 0, 0, scale, 0, 0)
            last = merged[-1] if merged else None
            if last is None or shape.group in (0, 1) or last.group != shape.group or last.colour != shape.colour:
                merged.append(_Shape(path, shape.colour, shape.name, shape.group))
            else:
                last.path.addPath(path)
                last.joined = True
        for shape in merged:
            if shape.joined:
                shape.path.fillType = pathops.FillType.WINDING
        if len(merged) <= MAX_PIECES:
            merged = _visible(merged)
        return [(shape.path, shape.colour, shape.name) for shape in merged if abs(shape.path.area) > 1e-6]


def _visible(shapes: list[_Shape]) -> list[_Shape]:
    """Each shape without what later ones paint over it: bodies of the same depth would fight for the same place."""
    boxes = np.array([shape.path.bounds for shape in shapes])
    for i, shape in enumerate(shapes):
        later = np.flatnonzero(
            (boxes[i + 1 :, 0] < boxes[i, 2]) & (boxes[i + 1 :, 2] > boxes[i, 0]) & (boxes[i + 1 :, 1] < boxes[i, 3]) & (boxes[i + 1 :, 3] > boxes[i, 1])
        )
        for j in later + i + 1:
            shape.path = combined(shape.path, shapes[j].path, pathops.PathOp.DIFFERENCE)
    return shapes


def _reference(element: Element) -> str:
    value = element.get("href") or element.get("{http://www.w3.org/1999/xlink}href") or ""
    return value[1:] if value.startswith("#") else ""


def _shift(element: Element) -> Floats:
    matrix = np.eye(3)
    for axis, name in enumerate("xy"):
        try:
            matrix[axis, 2] = float(re.sub(r"px$", "", element.get(name, "0")))
        except ValueError:
            matrix[axis, 2] = 0.0
    return matrix


_CALL = re.compile(r"(\w+)\s*\(([^)]*)\)")


def transform(text: str) -> Floats:
    """The matrix (3, 3) of a transform attribute (CSS Transforms Level 1, section 8)."""
    matrix = np.eye(3)
    for name, arguments in _CALL.findall(text):
        try:
            v = [float(x) for x in re.split(r"[\s,]+", arguments.strip()) if x]
        except ValueError:
            continue
        step = _step(name, v)
        if step is not None and np.isfinite(step).all():
            matrix = matrix @ step
    return matrix


def _step(name: str, v: list[float]) -> Floats | None:
    if name == "matrix" and len(v) == 6:
        return np.array([[v[0], v[2], v[4]], [v[1], v[3], v[5]], [0, 0, 1]])
    if name == "translate" and v:
        return np.array([[1, 0, v[0]], [0, 1, v[1] if len(v) > 1 else 0], [0, 0, 1]])
    if name == "scale" and v:
        return np.diag([v[0], v[1] if len(v) > 1 else v[0], 1])
    if name == "rotate" and v:
        c, s = math.cos(math.radians(v[0])), math.sin(math.radians(v[0]))
        turn: Any = np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]])
        if len(v) == 3:
            there, back = np.eye(3), np.eye(3)
            there[:2, 2], back[:2, 2] = v[1:], [-v[1], -v[2]]
            return np.asarray(there @ turn @ back)
        return np.asarray(turn)
    if name in ("skewX", "skewY") and v:
        skew = np.eye(3)
        skew[(0, 1) if name == "skewX" else (1, 0)] = math.tan(math.radians(v[0]))
        return skew
    return None
