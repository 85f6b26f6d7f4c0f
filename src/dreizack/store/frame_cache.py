"""Traced pictures on disk, named by the hash of what they were made from."""

from __future__ import annotations

import os
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from ..core.files import whole_file, write_whole
from ..core.media.formats.stills import read_exr, write_exr
from .cache_folder import CacheFolder

# Folder, below the data of an installation, of what deliveries traced.
FRAMES = "frames"


class FrameCache(CacheFolder):
    """Keeps half-float pictures."""

    suffix = ".exr"

    def __init__(self, folder: Path, limit: int = 20 * 1024**3) -> None:
        super().__init__(folder, limit)

    def get(self, key: str) -> NDArray[np.float32] | None:
        path = self.path(key)
        if not path.exists():
            return None
        try:
            picture = read_exr(path)
        except (OSError, RuntimeError, KeyError, ValueError):
            # A picture that cannot be read is as good as none: it is traced again.
            path.unlink(missing_ok=True)
            return None
        os.utime(path)
        return picture

    def has(self, key: str) -> bool:
        return self.path(key).exists()

    def put(self, key: str, rgba: NDArray[np.float32]) -> None:
        path = self.path(key)
        path.parent.mkdir(exist_ok=True)
        whole_file(path, lambda p: write_exr(p, rgba))
        self.grown(path.stat().st_size)

    def note(self, frame: str, key: str, width: int) -> None:
        """Say that the picture ``key`` shows a frame, so many pixels wide; the widest one is remembered."""
        known, wide = self._noted(frame)
        if wide <= width or not self.path(known).exists():
            write_whole(self._note(frame), f"{key} {width}".encode())

    def width_of(self, frame: str) -> int:
        """Pixels across of the widest picture of a frame; 0 where there is none."""
        key, width = self._noted(frame)
        return width if key and self.path(key).exists() else 0

    def of(self, frame: str) -> NDArray[np.float32] | None:
        """The widest picture of a frame, in whatever size it was made."""
        key, _ = self._noted(frame)
        return self.get(key) if key else None

    def _evict(self) -> None:
        """Notes go with the pictures they name."""
        super()._evict()
        for note in self.folder.glob("*/*.of"):
            key, _ = self._noted(note.stem)
            if not key or not self.path(key).exists():
                note.unlink(missing_ok=True)

    def _note(self, frame: str) -> Path:
        return self.folder / frame[:2] / f"{frame}.of"

    def _noted(self, frame: str) -> tuple[str, int]:
        try:
            key, width = self._note(frame).read_text().split()
            return key, int(width)
        except (OSError, ValueError):
            return "", 0
