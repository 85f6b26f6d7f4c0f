"""The renderer, loaded once; its kernels are compiled by LLVM."""

from __future__ import annotations

import os
from functools import cache
from pathlib import Path
from typing import Any

LLVM_NAMES = ("libLLVM-19.so.1", "libLLVM.so.19.1", "libLLVM-15.so.1", "libLLVM-14.so.1")


class NoCompiler(RuntimeError):
    """LLVM is missing; the text says what to do."""


@cache
def engine() -> Any:
    """The ``mitsuba`` module with its variant set; NoCompiler where LLVM is missing."""
    if "DRJIT_LIBLLVM_PATH" not in os.environ:
        for name in LLVM_NAMES:
            found = next((p for p in Path("/usr/lib").glob(f"*/{name}")), None)
            if found:
                os.environ["DRJIT_LIBLLVM_PATH"] = str(found)
                break
    import mitsuba as mi

    try:
        mi.set_variant("llvm_ad_rgb")
        mi.Float(1.0) + 1.0
    except Exception as why:  # it is missing in several ways
        raise NoCompiler(
            "the renderer needs LLVM to compile its kernels; run: apt-get install libllvm19"
        ) from why
    return mi


def arrays() -> Any:
    """The array library below the renderer; its stubs do not know what its own operators give back."""
    import drjit

    return drjit
