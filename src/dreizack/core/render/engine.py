"""The renderer, loaded once: compiled kernels where LLVM is present, plain C++ otherwise."""

from __future__ import annotations

import os
import sys
from functools import cache
from pathlib import Path
from typing import Any

LLVM_NAMES = ("libLLVM-19.so.1", "libLLVM.so.19.1", "libLLVM-15.so.1", "libLLVM-14.so.1")


@cache
def engine() -> Any:
    """The ``mitsuba`` module with its variant set."""
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
    except Exception as why:  # the JIT reports a missing LLVM in several ways
        print(f"No usable LLVM ({why}); tracing works, but about three times slower.", file=sys.stderr)
        mi.set_variant("scalar_rgb")
    return mi


def arrays() -> Any:
    """The array library below the renderer; its stubs do not know what its own operators give back."""
    import drjit

    return drjit
