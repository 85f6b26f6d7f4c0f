"""A folder of files named by what they were made from, which may grow only so large."""

from __future__ import annotations

from pathlib import Path


class CacheFolder:
    """Files up to ``limit`` bytes; the least recently used go first."""

    suffix = ""

    def __init__(self, folder: Path, limit: int) -> None:
        self.folder, self.limit = folder, limit
        folder.mkdir(parents=True, exist_ok=True)
        self._size = sum(file.stat().st_size for file in folder.glob(f"*/*{self.suffix}"))

    def path(self, key: str) -> Path:
        return self.folder / key[:2] / f"{key}{self.suffix}"

    def grown(self, size: int) -> None:
        """Say that so many bytes were added."""
        self._size += size
        if self._size > self.limit:
            self._evict()

    def _evict(self) -> None:
        files = sorted(
            (f.stat().st_mtime, f.stat().st_size, f) for f in self.folder.glob(f"*/*{self.suffix}")
        )
        self._size = sum(size for _, size, _ in files)
        for _, size, file in files:
            if self._size <= self.limit * 0.9:
                break
            file.unlink(missing_ok=True)
            self._size -= size
