"""Traced pictures on disk, named by the hash of what they were made from."""

from __future__ import annotations

import os
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from ..core.media.stills import read_exr, whole_file, write_exr


class FrameFolder:
    """Keeps half-float pictures up to ``limit`` bytes; the least recently used go first."""

    def __init__(self, folder: Path, limit: int = 20 * 1024**3) -> None:
        self.folder, self.limit = folder, limit
        folder.mkdir(parents=True, exist_ok=True)
        self._size = sum(f.stat().st_size for f in folder.glob("*/*.exr"))

    def _path(self, key: str) -> Path:
        return self.folder / key[:2] / f"{key}.exr"

    def get(self, key: str) -> NDArray[np.float32] | None:
        path = self._path(key)
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

    def put(self, key: str, rgba: NDArray[np.float32]) -> None:
        path = self._path(key)
        path.parent.mkdir(exist_ok=True)
        whole_file(path, lambda p: write_exr(p, rgba))
        self._size += path.stat().st_size
        if self._size > self.limit:
            self._evict()

    def _evict(self) -> None:
        files = sorted((f.stat().st_mtime, f.stat().st_size, f) for f in self.folder.glob("*/*.exr"))
        self._size = sum(size for _, size, _ in files)
        for _, size, file in files:
            if self._size <= self.limit * 0.9:
                break
            file.unlink(missing_ok=True)
            self._size -= size
