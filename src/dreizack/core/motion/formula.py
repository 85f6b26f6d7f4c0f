"""Formulas over arrays of values."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from ..document.formula import Node

Floats = NDArray[np.float64]

# Whatever comes out is kept within this, and what is no number counts as 0.
MOST = 1e9


def evaluate(node: Node, values: Mapping[str, Floats]) -> Floats:
    """What a formula makes of values of one shape; angles in degrees, division by 0 gives 0.

    >>> from dreizack.core.document.formula import parse
    >>> evaluate(parse("2 * x + 1"), {"x": np.array([1.0, 2.0])}).tolist()
    [3.0, 5.0]
    """
    with np.errstate(all="ignore"):
        return _tame(_value(node, values))


def _tame(found: Floats) -> Floats:
    tamed: Floats = np.clip(np.nan_to_num(found, nan=0.0, posinf=MOST, neginf=-MOST), -MOST, MOST)
    return tamed


def _value(node: Node, values: Mapping[str, Floats]) -> Floats:
    if node.kind == "number":
        return np.float64(node.value)  # type: ignore[return-value]
    if node.kind == "name":
        return values[node.name]
    parts = [_tame(_value(part, values)) for part in node.parts]
    if node.kind == "sign":
        return parts[0] * node.value
    return _called(node.name, parts) if node.kind == "call" else _joined(node.kind, *parts)


def _joined(sign: str, a: Floats, b: Floats) -> Floats:
    match sign:
        case "+":
            return a + b
        case "-":
            return a - b
        case "*":
            return a * b
        case "/":
            return np.where(b == 0, 0.0, a / np.where(b == 0, 1.0, b))
        case "%":
            return np.where(b == 0, 0.0, np.mod(a, np.where(b == 0, 1.0, b)))
        case "^":
            return np.power(a, np.clip(b, -64, 64))
        case "<":
            return np.asarray(a < b, np.float64)
        case ">":
            return np.asarray(a > b, np.float64)
        case "<=":
            return np.asarray(a <= b, np.float64)
        case _:
            return np.asarray(a >= b, np.float64)


def _called(name: str, parts: list[Floats]) -> Floats:
    a = parts[0]
    match name:
        case "sin" | "cos" | "tan":
            return getattr(np, name)(np.radians(a))  # type: ignore[no-any-return]
        case "asin" | "acos":
            return np.degrees(getattr(np, f"arc{name[1:]}")(np.clip(a, -1, 1)))  # type: ignore[no-any-return]
        case "atan":
            return np.degrees(np.arctan2(a, parts[1]) if len(parts) > 1 else np.arctan(a))
        case "sqrt":
            return np.sqrt(np.maximum(a, 0))
        case "log":
            return np.log(np.maximum(a, 1e-12))
        case "round":
            # Halves away from zero, as one does by hand.
            return np.sign(a) * np.floor(np.abs(a) + 0.5)
        case "min":
            return np.asarray(np.minimum.reduce(np.broadcast_arrays(*parts)))
        case "max":
            return np.asarray(np.maximum.reduce(np.broadcast_arrays(*parts)))
        case "clamp":
            return np.minimum(np.maximum(a, parts[1]), parts[2])
        case "mix":
            return a + (parts[1] - a) * parts[2]
        case "smoothstep":
            width = parts[1] - a
            u = np.clip((parts[2] - a) / np.where(width == 0, 1e-12, width), 0, 1)
            return u * u * (3 - 2 * u)
        case "if":
            return np.where(a != 0, parts[1], parts[2])
        case _:
            return getattr(np, name)(a)  # type: ignore[no-any-return]
