"""Finished pictures of the traced view on disk, named by what they were made from."""

from __future__ import annotations

import os
from collections.abc import Iterable
from pathlib import Path

from ..core.files import write_whole
from .cache_folder import CacheFolder


class ViewCache(CacheFolder):
    """Keeps pictures (JPEG)."""

    suffix = ".jpg"

    def __init__(self, folder: Path, limit: int = 2 * 1024**3) -> None:
        super().__init__(folder, limit)

    def get(self, key: str) -> bytes | None:
        try:
            data = self.path(key).read_bytes()
            os.utime(self.path(key))
        except OSError:
            return None
        return data

    def keep(self, key: str, data: bytes) -> None:
        write_whole(self.path(key), data)
        self.grown(len(data))

    def there(self, keys: Iterable[str]) -> list[bool]:
        """Which of these are kept."""
        return [self.path(key).exists() for key in keys]


def view_key(frame: str, width: int, height: int, samples: int) -> str:
    """Name of a picture of the traced view, from that of its frame."""
    return f"{frame}-{width}x{height}-{samples}"
