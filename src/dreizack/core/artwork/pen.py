"""Shapes of a drawing into paths, under a transform."""

from __future__ import annotations

import math
import re
import warnings
from collections.abc import Iterator
from contextlib import suppress
from itertools import groupby
from operator import itemgetter
from xml.etree.ElementTree import Element

import numpy as np
import pathops
from numpy.typing import NDArray

from .lengths import Viewport, length

Floats = NDArray[np.float64]

_NUMBER = r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?"
_NUMBERS = re.compile(_NUMBER)
_COMMANDS = re.compile(r"([MmZzLlHhVvCcSsQqTtAa])([^MmZzLlHhVvCcSsQqTtAa]*)")
# An arc's flags may stand without anything between them.
_ARC = re.compile(
    rf"\s*,?\s*({_NUMBER})[\s,]*({_NUMBER})[\s,]*({_NUMBER})[\s,]*([01])[\s,]*([01])[\s,]*({_NUMBER})[\s,]*({_NUMBER})"
)
_COUNTS = {"M": 2, "L": 2, "H": 1, "V": 1, "C": 6, "S": 4, "Q": 4, "T": 2, "A": 7, "Z": 0}
# What only looks like one number or is none: then numbers are looked for one by one.
_TIGHT = re.compile(r"[^\d\s,.eE+-]|\d[-+]|\.\d*\.|,\s*,")
# Lengths along the width.
ACROSS = {"x", "width", "rx", "cx", "x1", "x2"}
LONG = 200
FARTHEST = 1e7
# From so many segments of one command on, they are drawn together.
MANY = 6


def draw_path(
    element: Element, tag: str, matrix: Floats, path: pathops.Path, most: int, viewport: Viewport
) -> int:
    """Draw a shape; how many points it took. OverflowError beyond ``most``, ValueError for senseless
    numbers."""
    pen = _Pen(matrix, path, most)
    if tag == "path":
        pen.data(element.get("d", ""))
    elif tag == "rect":
        x, y, w, h = (_value(element, name, viewport) for name in ("x", "y", "width", "height"))
        rx, ry = (element.get(name, "auto") not in ("", "auto") for name in ("rx", "ry"))
        a = _value(element, "rx", viewport) if rx else _value(element, "ry", viewport) if ry else 0.0
        b = _value(element, "ry", viewport) if ry else a
        pen.rect(x, y, w, h, min(max(a, 0), w / 2), min(max(b, 0), h / 2))
    elif tag in ("circle", "ellipse"):
        r = _value(element, "r", viewport)
        a, b = (r, r) if tag == "circle" else (_value(element, n, viewport) for n in ("rx", "ry"))
        cx, cy = _value(element, "cx", viewport), _value(element, "cy", viewport)
        if a > 0 and b > 0:
            pen.rect(cx - a, cy - b, 2 * a, 2 * b, a, b)
    elif tag == "line":
        pen.move(_value(element, "x1", viewport), _value(element, "y1", viewport))
        pen.line(_value(element, "x2", viewport), _value(element, "y2", viewport))
    else:
        numbers = [float(n) for n in _NUMBERS.findall(element.get("points", ""))]
        for i in range(0, len(numbers) - 1, 2):
            (pen.line if i else pen.move)(numbers[i], numbers[i + 1])
        if tag == "polygon" and numbers:
            pen.close()
    return pen.count


def _value(element: Element, name: str, viewport: Viewport) -> float:
    along = "both" if name == "r" else "x" if name in ACROSS else "y"
    value = length(element.get(name) or "0", viewport, along)  # type: ignore[arg-type]
    if value is None:
        raise ValueError(name)
    return value


def _together(commands: list[tuple[str, str]]) -> Iterator[tuple[str, str]]:
    """Lines and curves that follow one another as one command with many arguments, which means the same."""
    for command, run in groupby(commands, key=itemgetter(0)):
        if command in "LlCc":
            yield command, " ".join(arguments for _, arguments in run)
        else:
            yield from run


def _numbers(arguments: str) -> list[float]:
    if len(arguments) > LONG and not _TIGHT.search(arguments):
        with warnings.catch_warnings(), suppress(DeprecationWarning, ValueError):
            warnings.simplefilter("error")
            many: list[float] = np.fromstring(arguments.replace(",", " "), sep=" ").tolist()
            return many
    return [float(n) for n in _NUMBERS.findall(arguments)]


def _arcs(arguments: str) -> list[float]:
    return [float(n) for found in _ARC.findall(arguments) for n in found]


class _Pen:
    def __init__(self, matrix: Floats, path: pathops.Path, most: int) -> None:
        self.a, self.c, self.e = matrix[0].tolist()
        self.b, self.d, self.f = matrix[1].tolist()
        self.path, self.most, self.count = path, most, 0
        self.x = self.y = self.start_x = self.start_y = 0.0
        self.open = False

    def _at(self, x: float, y: float) -> tuple[float, float]:
        px, py = self.a * x + self.c * y + self.e, self.b * x + self.d * y + self.f
        if not (abs(px) < FARTHEST and abs(py) < FARTHEST):
            raise ValueError("far away")
        self.count += 1
        if self.count > self.most:
            raise OverflowError
        return px, py

    def move(self, x: float, y: float) -> None:
        self.path.moveTo(*self._at(x, y))
        self.x, self.y, self.start_x, self.start_y, self.open = x, y, x, y, True

    def line(self, x: float, y: float) -> None:
        self._begun()
        self.path.lineTo(*self._at(x, y))
        self.x, self.y = x, y

    def curve(self, x1: float, y1: float, x2: float, y2: float, x: float, y: float) -> None:
        self._begun()
        self.path.cubicTo(*self._at(x1, y1), *self._at(x2, y2), *self._at(x, y))
        self.x, self.y = x, y

    def close(self) -> None:
        if self.open:
            self.path.close()
        self.x, self.y, self.open = self.start_x, self.start_y, False

    def _begun(self) -> None:
        if not self.open:
            self.move(self.x, self.y)

    def rect(self, x: float, y: float, w: float, h: float, rx: float, ry: float) -> None:
        if w <= 0 or h <= 0:
            return
        kx, ky = rx * 0.5522847498, ry * 0.5522847498
        self.move(x + rx, y)
        self.line(x + w - rx, y)
        if rx > 0 and ry > 0:
            self.curve(x + w - rx + kx, y, x + w, y + ry - ky, x + w, y + ry)
            self.line(x + w, y + h - ry)
            self.curve(x + w, y + h - ry + ky, x + w - rx + kx, y + h, x + w - rx, y + h)
            self.line(x + rx, y + h)
            self.curve(x + rx - kx, y + h, x, y + h - ry + ky, x, y + h - ry)
            self.line(x, y + ry)
            self.curve(x, y + ry - ky, x + rx - kx, y, x + rx, y)
        else:
            self.line(x + w, y)
            self.line(x + w, y + h)
            self.line(x, y + h)
        self.close()

    def data(self, text: str) -> None:
        """All commands of path data (SVG 2, 9.3); what follows a fault is left out, as the standard asks."""
        mirror: tuple[str, float, float] | None = None
        for command, arguments in _together(_COMMANDS.findall(text)):
            kind = command.upper()
            if kind == "Z":
                self.close()
                mirror = None
                continue
            values = _arcs(arguments) if kind == "A" else _numbers(arguments)
            size = _COUNTS[kind]
            if len(values) < size:
                return
            if kind in "LC" and len(values) >= MANY * size:
                self._run(
                    kind,
                    command.islower(),
                    np.array(values[: len(values) // size * size]).reshape(-1, size // 2, 2),
                )
                mirror = None
                continue
            for i in range(0, len(values) - size + 1, size):
                mirror = self._one(kind, command.islower(), values[i : i + size], mirror, first=i == 0)

    def _run(self, kind: str, relative: bool, steps: Floats) -> None:
        """Many lines or curves (n, points, 2) of one command at once."""
        self._begun()
        if relative:
            ends = np.cumsum(steps[:, -1], axis=0) + np.array([self.x, self.y])
            before = np.vstack([np.array([self.x, self.y]), ends[:-1]])
            steps = steps + before[:, None]
        self.x, self.y = steps[-1, -1].tolist()
        placed = np.stack(
            [
                self.a * steps[..., 0] + self.c * steps[..., 1] + self.e,
                self.b * steps[..., 0] + self.d * steps[..., 1] + self.f,
            ],
            axis=2,
        )
        if not (np.abs(placed) < FARTHEST).all():
            raise ValueError("far away")
        self.count += placed.shape[0] * placed.shape[1]
        if self.count > self.most:
            raise OverflowError
        draw = self.path.lineTo if kind == "L" else self.path.cubicTo
        for numbers in placed.reshape(len(placed), -1).tolist():
            draw(*numbers)

    def _one(
        self, kind: str, relative: bool, v: list[float], mirror: tuple[str, float, float] | None, first: bool
    ) -> tuple[str, float, float] | None:
        ox, oy = (self.x, self.y) if relative else (0.0, 0.0)
        if kind == "M":
            (self.move if first else self.line)(v[0] + ox, v[1] + oy)
            return None
        if kind == "L":
            self.line(v[0] + ox, v[1] + oy)
            return None
        if kind == "H":
            self.line(v[0] + ox, self.y)
            return None
        if kind == "V":
            self.line(self.x, v[0] + oy)
            return None
        if kind in "CS":
            if kind == "S":
                reflected = mirror is not None and mirror[0] == "C"
                v = [
                    2 * self.x - mirror[1] - ox if reflected and mirror else self.x - ox,
                    2 * self.y - mirror[2] - oy if reflected and mirror else self.y - oy,
                    *v,
                ]
            self.curve(v[0] + ox, v[1] + oy, v[2] + ox, v[3] + oy, v[4] + ox, v[5] + oy)
            return "C", v[2] + ox, v[3] + oy
        if kind in "QT":
            if kind == "T":
                reflected = mirror is not None and mirror[0] == "Q"
                v = [
                    2 * self.x - mirror[1] - ox if reflected and mirror else self.x - ox,
                    2 * self.y - mirror[2] - oy if reflected and mirror else self.y - oy,
                    *v,
                ]
            cx, cy, x, y = v[0] + ox, v[1] + oy, v[2] + ox, v[3] + oy
            self.curve(
                self.x + 2 / 3 * (cx - self.x),
                self.y + 2 / 3 * (cy - self.y),
                x + 2 / 3 * (cx - x),
                y + 2 / 3 * (cy - y),
                x,
                y,
            )
            return "Q", cx, cy
        self._arc(v[0], v[1], v[2], v[3] != 0, v[4] != 0, v[5] + ox, v[6] + oy)
        return None

    def _arc(self, rx: float, ry: float, turn: float, large: bool, sweep: bool, x: float, y: float) -> None:
        """An elliptical arc as cubics (SVG 2, appendix B.2.4)."""
        x0, y0 = self.x, self.y
        rx, ry = abs(rx), abs(ry)
        if rx == 0 or ry == 0 or (x0 == x and y0 == y):
            self.line(x, y)
            return
        c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
        px, py = c * (x0 - x) / 2 + s * (y0 - y) / 2, -s * (x0 - x) / 2 + c * (y0 - y) / 2
        over = (px / rx) ** 2 + (py / ry) ** 2
        if over > 1:
            rx, ry = rx * math.sqrt(over), ry * math.sqrt(over)
        q = max((rx * ry) ** 2 - (rx * py) ** 2 - (ry * px) ** 2, 0) / max(
            (rx * py) ** 2 + (ry * px) ** 2, 1e-30
        )
        k = (-1 if large == sweep else 1) * math.sqrt(q)
        ux, uy = k * rx * py / ry, -k * ry * px / rx
        cx, cy = c * ux - s * uy + (x0 + x) / 2, s * ux + c * uy + (y0 + y) / 2
        start = math.atan2((py - uy) / ry, (px - ux) / rx)
        span = math.atan2((-py - uy) / ry, (-px - ux) / rx) - start
        span += 2 * math.pi if sweep and span < 0 else -2 * math.pi if not sweep and span > 0 else 0
        pieces = max(1, math.ceil(abs(span) / (math.pi / 2) - 1e-9))
        step = span / pieces
        t = 4 / 3 * math.tan(step / 4)
        for i in range(pieces):
            a, b = start + i * step, start + (i + 1) * step
            points = [
                (math.cos(a) - t * math.sin(a), math.sin(a) + t * math.cos(a)),
                (math.cos(b) + t * math.sin(b), math.sin(b) - t * math.cos(b)),
                (math.cos(b), math.sin(b)),
            ]
            placed = [(cx + c * rx * u - s * ry * w, cy + s * rx * u + c * ry * w) for u, w in points]
            if i == pieces - 1:
                placed[2] = (x, y)
            self.curve(*placed[0], *placed[1], *placed[2])
