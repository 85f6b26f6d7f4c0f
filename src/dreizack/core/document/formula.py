"""Formulas over named values: parsed into a tree, never run as code.

Grammar, loosest first: comparisons, sums, products, signs, powers (from the right), numbers, names, calls,
brackets.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cached_property, lru_cache

MOST_NODES, MOST_DEPTH = 200, 40
TOKEN = re.compile(
    r"\s*(?:(\d+\.?\d*(?:[eE][-+]?\d+)?|\.\d+)|([A-Za-z_][A-Za-z_0-9]*)|(<=|>=|[-+*/%^<>(),]))"
)
# Functions and how many arguments each takes, at least and at most.
FUNCTIONS: dict[str, tuple[int, int]] = {
    "sin": (1, 1),
    "cos": (1, 1),
    "tan": (1, 1),
    "asin": (1, 1),
    "acos": (1, 1),
    "atan": (1, 2),
    "sqrt": (1, 1),
    "abs": (1, 1),
    "sign": (1, 1),
    "floor": (1, 1),
    "ceil": (1, 1),
    "round": (1, 1),
    "exp": (1, 1),
    "log": (1, 1),
    "min": (2, 8),
    "max": (2, 8),
    "clamp": (3, 3),
    "mix": (3, 3),
    "smoothstep": (3, 3),
    "if": (3, 3),
}
CONSTANTS = {"pi": 3.141592653589793}
POWERS = {"<": 1, ">": 1, "<=": 1, ">=": 1, "+": 2, "-": 2, "*": 3, "/": 3, "%": 3, "^": 5}


class FormulaError(ValueError):
    """A formula that cannot be read; the text says where and why."""


@dataclass(frozen=True)
class Node:
    """``kind`` is "number", "name", "call", "sign" or an operator; what it is made of is in ``parts``."""

    kind: str
    value: float = 0.0
    name: str = ""
    parts: tuple[Node, ...] = ()

    @cached_property
    def names(self) -> set[str]:
        """Names of the values it reads."""
        own = {self.name} if self.kind == "name" else set()
        return own.union(*(part.names for part in self.parts)) if self.parts else own


@lru_cache(maxsize=512)
def parse(text: str) -> Node:
    """The tree of a formula; FormulaError says what is wrong and where.

    >>> parse("2 * x + 1").kind, sorted(parse("a + min(b, 3)").names)
    ('+', ['a', 'b'])
    """
    return _Reader(text).whole()


class _Reader:
    def __init__(self, text: str) -> None:
        self.tokens: list[tuple[str, str, int]] = []
        self.nodes = 0
        at = 0
        while at < len(text.rstrip()):
            found = TOKEN.match(text, at)
            if not found:
                sign = text[at:].lstrip()[:1]
                raise FormulaError(f"the formula has '{sign}' at place {at + 1}, which means nothing here")
            number, name, sign = found.groups()
            kind = "number" if number else "name" if name else "sign"
            self.tokens.append((kind, number or name or sign, found.end()))
            at = found.end()
        self.at = 0

    def whole(self) -> Node:
        if not self.tokens:
            raise FormulaError("the formula is empty")
        made = self.upto(0, 0)
        if self.at < len(self.tokens):
            raise FormulaError(f"the formula should end before '{self.tokens[self.at][1]}'")
        return made

    def upto(self, power: int, depth: int) -> Node:
        """What binds more tightly than ``power`` (Pratt, Top down operator precedence, 1973)."""
        self.count(depth)
        left = self.first(depth)
        while self.at < len(self.tokens):
            _, sign, _ = self.tokens[self.at]
            binds = POWERS.get(sign, -1)
            if binds <= power:
                break
            self.at += 1
            # Powers bind from the right, all else from the left.
            left = Node(sign, parts=(left, self.upto(binds - (sign == "^"), depth + 1)))
            self.count(depth)
        return left

    def first(self, depth: int) -> Node:
        kind, text, _ = self.take("a number or a name")
        if kind == "number":
            return Node("number", value=float(text))
        if kind == "name":
            if self.at < len(self.tokens) and self.tokens[self.at][1] == "(":
                return self.call(text, depth)
            return Node("number", value=CONSTANTS[text]) if text in CONSTANTS else Node("name", name=text)
        if text in "+-":
            inner = self.upto(4, depth + 1)
            return Node("sign", value=-1.0 if text == "-" else 1.0, parts=(inner,))
        if text == "(":
            inner = self.upto(0, depth + 1)
            self.expect(")")
            return inner
        raise FormulaError(f"the formula has '{text}' where a number or a name should stand")

    def call(self, name: str, depth: int) -> Node:
        if name not in FUNCTIONS:
            raise FormulaError(f"there is no function '{name}'; there are {', '.join(sorted(FUNCTIONS))}")
        self.at += 1
        parts = [self.upto(0, depth + 1)]
        while self.at < len(self.tokens) and self.tokens[self.at][1] == ",":
            self.at += 1
            parts.append(self.upto(0, depth + 1))
        self.expect(")")
        low, high = FUNCTIONS[name]
        if not low <= len(parts) <= high:
            wanted = str(low) if low == high else f"{low} to {high}"
            raise FormulaError(f"{name} takes {wanted} numbers, here it has {len(parts)}")
        return Node("call", name=name, parts=tuple(parts))

    def take(self, wanted: str) -> tuple[str, str, int]:
        if self.at >= len(self.tokens):
            raise FormulaError(f"the formula ends where {wanted} should stand")
        self.at += 1
        return self.tokens[self.at - 1]

    def expect(self, sign: str) -> None:
        _, found, _ = self.take(f"'{sign}'")
        if found != sign:
            raise FormulaError(f"the formula has '{found}' where '{sign}' should stand")

    def count(self, depth: int) -> None:
        self.nodes += 1
        if depth > MOST_DEPTH or self.nodes > MOST_NODES:
            raise FormulaError("the formula is too long; split it among several values")
