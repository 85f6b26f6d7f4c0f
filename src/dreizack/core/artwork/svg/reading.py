"""A drawing's pieces, read in a sandbox."""

from __future__ import annotations

import json
from dataclasses import asdict, dataclass, field
from xml.etree.ElementTree import ParseError

import numpy as np
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from ...document.plain_text import cleaned
from ...lettering.outlines import outline_from_path
from ...sandbox import FileRefused, Unreadable, sandboxed
from ..path_data import data_from_outline
from .pieces import MAX_PIECES, pieces_of
from .tree import tag_of
from .walking import Walk

MAX_BYTES = 24_000_000
MAX_COLOURS = 32


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
    """Read a drawing in a sandbox; FileRefused with a sentence for what is none."""
    if len(data) > MAX_BYTES:
        raise FileRefused(f"the drawing is larger than {MAX_BYTES // 1_000_000} MB; simplify it")
    found = json.loads(
        sandboxed("dreizack.core.artwork.svg.reading:read", data, what="drawing", seconds=seconds)
    )
    pieces = [DrawnPiece(cleaned(piece.pop("name"), 80), **piece) for piece in found.pop("pieces")]
    return Drawing(pieces, [(r, g, b) for r, g, b in found.pop("colours")], **found)


def read(data: bytes) -> bytes:
    """In the sandbox: the drawing as JSON."""
    return json.dumps(asdict(drawing(data))).encode()


def drawing(data: bytes) -> Drawing:
    """Parse and flatten a drawing; Unreadable says what is wrong with it."""
    try:
        root = fromstring(data, forbid_dtd=False, forbid_entities=True, forbid_external=True)
    except DefusedXmlException:
        raise Unreadable(
            "the drawing defines entities or refers to other files, which is not read; save it as plain SVG"
        ) from None
    except ParseError as why:
        line, column = why.position
        raise Unreadable(
            f"the drawing is no well-formed SVG (line {line}, column {column + 1}); save it anew"
        ) from None
    except (ValueError, LookupError):
        raise Unreadable("the drawing is no well-formed SVG; save it anew") from None
    if tag_of(root) != "svg":
        raise Unreadable("this is no SVG drawing: its outermost element is not 'svg'")
    return _placed(Walk(root))


def _placed(walk: Walk) -> Drawing:
    """What was found, in units of the drawing's height, standing on the line, in the middle."""
    if not walk.shapes:
        why = f"; left out were: {', '.join(walk.left_out)}" if walk.left_out else ""
        raise Unreadable("the drawing has nothing filled or stroked that could get a body" + why)
    pieces = pieces_of(walk.shapes)
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
        made.append(
            DrawnPiece(name[:80], data_from_outline(outline), min(colours.index(colour), MAX_COLOURS - 1))
        )
    if not made:
        raise Unreadable("the drawing's shapes have no area that could get a body")
    if len(made) > MAX_PIECES:
        raise Unreadable(
            f"the drawing falls into {len(made)} pieces; at most {MAX_PIECES} are read: group or unite some"
        )
    if len(colours) > MAX_COLOURS:
        walk.left_out[f"colours beyond number {MAX_COLOURS}"] = len(colours) - MAX_COLOURS
    return Drawing(
        made,
        colours[:MAX_COLOURS],
        [f"{what} ({count}×)" if count > 1 else what for what, count in walk.left_out.items()],
        walk.points,
    )
