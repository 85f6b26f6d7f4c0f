"""Functions are short enough to be seen at once."""

from __future__ import annotations

import ast
from pathlib import Path

import dreizack

ROOT = Path(dreizack.__file__).parent
MOST = 60
# Kernels are traced as one piece; their parts have names.
KERNELS = {"radiance", "trace_features"}
# Rows of numbers that are read from top to bottom.
PAGES = ROOT / "demo"


def long_functions(text: str) -> list[tuple[str, int]]:
    found = (ast.FunctionDef, ast.AsyncFunctionDef)
    nodes = [node for node in ast.walk(ast.parse(text)) if isinstance(node, found)]
    lengths = [(node.name, (node.end_lineno or 0) - node.lineno + 1) for node in nodes]
    return [(name, length) for name, length in lengths if length > MOST and name not in KERNELS]


def test_no_function_is_longer_than_one_sees_at_once() -> None:
    files = [path for path in ROOT.rglob("*.py") if PAGES not in path.parents]
    assert len(files) > 300
    assert {path.name: found for path in files if (found := long_functions(path.read_text()))} == {}


def test_long_ones_are_found() -> None:
    body = "\n".join(["    x = 1"] * MOST)
    assert long_functions(f"def odd():\n{body}\n") == [("odd", MOST + 1)]
    assert long_functions(f"def radiance():\n{body}\n") == []
