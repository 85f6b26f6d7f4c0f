"""One delivery as a job: resumes where a lost worker stopped, stops when nobody wants it."""

from __future__ import annotations

import time
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from uuid import UUID

import cv2

from ..core.document.stored import stored_shot
from ..core.files import DiskFull, write_whole
from ..core.media import (
    FORMATS,
    FilesLost,
    FramesFailed,
    Order,
    Progress,
    Reel,
    ShotReel,
    deliver_reel,
    facts_of,
    ruled_name,
)
from ..core.media.sharing import Sharing
from ..core.render import Stopped
from ..core.sequence import SequenceReel, read_bundle
from ..store import Store
from ..store.frame_cache import FrameCache

PREVIEW_WIDTH = 640
FRAMES_RULE = "{production}-{name}-{version}-{size}"


def delivered_file(folder: Path, delivery: UUID, written: str) -> Path:
    """Where a delivery lies when it is complete: a movie, or frames in one archive."""
    found = FORMATS[written]
    return folder / f"{delivery}{found.suffix if found.movie else '.zip'}"


class Deliveries:
    """Carries out deliveries into ``folder``; traced frames are kept and found again, and shared out to
    whoever helps."""

    def __init__(
        self,
        store: Store,
        folder: Path,
        frames: FrameCache,
        shares: Callable[[], Sharing] | None = None,
    ) -> None:
        self.store, self.folder, self.frames, self.shares = store, folder, frames, shares
        folder.mkdir(parents=True, exist_ok=True)

    def run(self, delivery: UUID, let_go: Any = lambda: False) -> None:
        """Render one delivery to its end; ``let_go`` says that this worker should stop and hand back."""
        row = self.store.row("delivery_document", id=delivery)
        if row is None or self.store.row("delivery_begin", id=delivery) is None:
            return
        self.store.tell("delivery", id=str(delivery))
        path = delivered_file(self.folder, delivery, row["format"])
        pace = Pace()

        def watch(progress: Progress, picture: Any) -> None:
            self.store.rows(
                "frame_done", delivery=delivery, frame=progress.frame, kept=progress.kept, seconds=pace.lap()
            )
            self._preview(delivery, picture)
            self.store.tell("delivery", id=str(delivery), done=progress.done, total=progress.total)

        def unwanted() -> bool:
            return let_go() or (pace.due() and self._state(delivery) != "rendering")

        try:
            deliver_reel(
                self._reel(row), path, FORMATS[row["format"]], watch, unwanted, inside=_frames_called(row)
            )
            if self.store.row("delivery_complete", id=delivery, bytes=path.stat().st_size) is None:
                path.unlink(missing_ok=True)
        except Stopped:
            if let_go():
                raise
        except DiskFull as why:
            self.store.rows("delivery_fail", id=delivery, why=f"{why}; frames that are finished are kept")
        except (FilesLost, FramesFailed) as why:
            self.store.rows("delivery_fail", id=delivery, why=str(why))
        except Exception as why:
            self.store.rows("delivery_fail", id=delivery, why=f"{type(why).__name__}: {why}")
            raise
        finally:
            self.store.tell("delivery", id=str(delivery))

    def _reel(self, row: dict[str, Any]) -> Reel:
        """What was ordered."""
        order = Order(row["first"], row["last"], row["width"], row["height"], row["quality"])
        if row["sequence"] is not None:
            return SequenceReel(read_bundle(row["document"]), order, self.frames, self.shares)
        return ShotReel(stored_shot(row["document"], row["schema"]), order, self.frames, self.shares)

    def _state(self, delivery: UUID) -> str:
        row = self.store.row("delivery_state", id=delivery)
        return str(row["state"]) if row else "gone"

    def _preview(self, delivery: UUID, picture: Any) -> None:
        height = max(1, round(picture.shape[0] * PREVIEW_WIDTH / picture.shape[1]))
        small = cv2.resize(picture, (PREVIEW_WIDTH, height), interpolation=cv2.INTER_AREA)
        done, data = cv2.imencode(".jpg", small[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, 88])
        if done:
            write_whole(self.folder / f"{delivery}.jpg", data.tobytes())


def _frames_called(row: dict[str, Any]) -> str:
    """The name that frames in an archive have before their number."""
    facts = facts_of(
        row["production"],
        row["name"],
        row["version"],
        (row["width"], row["height"]),
        row["format"],
        row["quality"],
        (row["first"], row["last"]),
        datetime.now(UTC),
    )
    return ruled_name(FRAMES_RULE, facts)


class Pace:
    """Time a frame took, and when to look again whether it is still wanted."""

    def __init__(self) -> None:
        self._lap = self._asked = time.monotonic()

    def lap(self) -> float:
        now = time.monotonic()
        taken, self._lap = now - self._lap, now
        return taken

    def due(self) -> bool:
        now = time.monotonic()
        if now - self._asked < 0.25:
            return False
        self._asked = now
        return True
