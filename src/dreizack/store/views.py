"""Finished pictures of the traced view on disk, named by what they were made from."""

from __future__ import annotations

import os
from collections.abc import Iterable
from pathlib import Path

from ..core.shelf.files import put


class ViewFolder:
    """Keeps pictures (JPEG) up to ``limit`` bytes; the least recently used go first."""

    def __init__(self, folder: Path, limit: int = 2 * 1024**3) -> None:
        self.folder, self.limit = folder, limit
        folder.mkdir(parents=True, exist_ok=True)
        self._size = sum(file.stat().st_size for file in folder.glob("*/*.jpg"))

    def _path(self, key: str) -> Path:
        return self.folder / key[:2] / f"{key}.jpg"

    def get(self, key: str) -> bytes | None:
        try:
            data = self._path(key).read_bytes()
            os.utime(self._path(key))
        except OSError:
            return None
        return data

    def keep(self, key: str, data: bytes) -> None:
        put(self._path(key), data)
        self._size += len(data)
        if self._size > self.limit:
            self._evict()

    def there(self, keys: Iterable[str]) -> list[bool]:
        """Which of these are kept."""
        return [self._path(key).exists() for key in keys]

    def _evict(self) -> None:
        files = sorted((f.stat().st_mtime, f.stat().st_size, f) for f in self.folder.glob("*/*.jpg"))
        self._size = sum(size for _, size, _ in files)
        for _, size, file in files:
            if self._size <= self.limit * 0.9:
                break
            file.unlink(missing_ok=True)
            self._size -= size


def view_key(frame: str, width: int, height: int, samples: int) -> str:
    """Name of a picture of the traced view, from that of its frame."""
    return f"{frame}-{width}x{height}-{samples}"
