"""Denoising with auxiliary features (Open Image Denoise, RT filter)."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np
import pyoidn
from numpy.typing import NDArray
from pyoidn.capi import oidn_ffi

from ..kernel.cancellation import Stopped

Floats = NDArray[np.float32]

# Pixels that a filter sees around what there is, and what sizes of pictures are multiples of.
MARGIN, BLOCK = 8, 64

_MONITOR = (
    "void oidnSetFilterProgressMonitorFunction(OIDNFilter filter, OIDNProgressMonitorFunction func, "
    "void* userPtr);"
)
_QUALITIES = {
    "fast": pyoidn.OIDN_QUALITY_FAST,
    "balanced": pyoidn.OIDN_QUALITY_BALANCED,
    "high": pyoidn.OIDN_QUALITY_HIGH,
}


class Denoiser:
    """One filter, kept warm; pictures of the same size need no new set-up."""

    def __init__(self) -> None:
        self._device = pyoidn.Device()
        self._device.commit()
        self._filter = pyoidn.Filter(self._device, "RT")
        self._stopped: Callable[[], bool] = lambda: False
        # The binding leaves out the progress monitor, the one way to call a denoise off.
        oidn_ffi.cdef(_MONITOR, override=True)
        library = Path(pyoidn.__file__).parent / "oidn" / "lib" / "libOpenImageDenoise.so"
        self._ask = oidn_ffi.callback("bool(void*, double)", lambda _user, _done: not self._stopped())
        self._library: Any = oidn_ffi.dlopen(str(library))
        self._library.oidnSetFilterProgressMonitorFunction(self._filter._filter, self._ask, oidn_ffi.NULL)

    def run(
        self, colour: Floats, albedo: Floats, normal: Floats, quality: str, stopped: Callable[[], bool]
    ) -> Floats:
        """Denoise (height, width, 3) arrays; raises Stopped as soon as ``stopped`` says so."""
        self._stopped = stopped
        out = np.empty_like(colour)
        images = {"color": colour, "albedo": albedo, "normal": normal, "output": out}
        for name, data in images.items():
            self._filter.set_image(name, data, pyoidn.OIDN_FORMAT_FLOAT3)
        self._filter.set_bool("hdr", True)
        # Features come from many more rays than light does: they may be trusted as they are.
        self._filter.set_bool("cleanAux", True)
        self._filter.set_quality(_QUALITIES[quality])
        self._filter.commit()
        self._filter.execute()
        trouble = self._device.get_error()
        if stopped():
            raise Stopped
        if trouble:
            raise RuntimeError(f"the denoiser failed: {trouble}")
        return out


@cache
def denoiser() -> Denoiser:
    """This process's denoiser."""
    return Denoiser()


def denoise(
    rgba: Floats, albedo: Floats, normal: Floats, quality: str, stopped: Callable[[], bool] = lambda: False
) -> Floats:
    """Denoised copy of a premultiplied picture (height, width, 4); alpha stays as it is.

    ``albedo`` and ``normal`` (height, width, 3) come from the same camera, without noise of light.
    """
    clean = np.zeros(rgba.shape, np.float32)
    # Light that is added to what is behind takes nothing up.
    there = rgba.max(axis=2) > 0
    box = _box(there)
    # A filter sees less at a border and leaves noise there: what it cannot see is mirrored.
    around = [(MARGIN, MARGIN), (MARGIN, MARGIN), (0, 0)]
    colour, flat, lean = (
        np.pad(np.asarray(picture[box], np.float32), around, mode="reflect")
        for picture in (rgba[..., :3], np.clip(albedo, 0, 1), np.clip(normal, -1, 1))
    )
    filtered = denoiser().run(colour, flat, lean, quality, stopped)
    clean[box][..., :3] = filtered[MARGIN:-MARGIN, MARGIN:-MARGIN]
    # Where no path found anything there is nothing, not the faint halo a filter leaves.
    clean[~there] = 0
    clean[..., 3] = rgba[..., 3]
    return clean


def _box(there: NDArray[np.bool_]) -> tuple[slice, slice]:
    """Rows and columns that hold all there is, and some more: few different sizes, as each is set up anew."""

    def along(used: NDArray[np.bool_]) -> slice:
        at = np.flatnonzero(used)
        first, last = (int(at[0]), int(at[-1]) + 1) if len(at) else (0, 1)
        return slice(
            max(0, (first - MARGIN) // BLOCK * BLOCK), min(len(used), -(-(last + MARGIN) // BLOCK) * BLOCK)
        )

    return along(np.any(there, axis=1)), along(np.any(there, axis=0))
