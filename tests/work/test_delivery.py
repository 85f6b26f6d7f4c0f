"""Deliveries in the background: cancelled, failed, resumed after a worker was killed."""

from __future__ import annotations

import errno
import os
import signal
import subprocess
import sys
import time
import zipfile
from collections.abc import Callable, Iterator
from pathlib import Path
from uuid import UUID

import procrastinate
import pytest

from dreizack.core.document import Channel, Key, Shot
from dreizack.core.media import probe
from dreizack.store import Store
from dreizack.store.frame_cache import FrameCache
from dreizack.store.shots import create_shot
from dreizack.work import defer_delivery
from dreizack.work.delivery import Deliveries
from tests.conftest import ROOT


def order(
    store: Store,
    shot: Shot,
    size: tuple[int, int] = (96, 54),
    last: int = 11,
    quality: str = "draft",
    format: str = "mp4",
) -> UUID:
    production = store.row("production_create", name="SLACK WATER")
    assert production is not None
    made = create_shot(store, production["id"], shot)
    row = store.row(
        "delivery_create",
        shot=made,
        first=0,
        last=last,
        width=size[0],
        height=size[1],
        quality=quality,
        format=format,
    )
    assert row is not None
    return row["id"]


def state(store: Store, delivery: UUID) -> dict:
    row = store.row("delivery_list", id=delivery)
    assert row is not None
    return row


def until(reached: Callable[[], bool], seconds: float = 150) -> None:
    end = time.monotonic() + seconds
    while not reached():
        assert time.monotonic() < end, "waited too long"
        time.sleep(0.05)


@pytest.fixture
def moving(shot: Shot) -> Shot:
    shot.channels["/things/title/place/rotation/y"] = Channel(
        keys=[Key(frame=0, value=-40), Key(frame=11, value=40)]
    )
    return shot


@pytest.fixture
def workers(store: Store, tmp_path: Path) -> Iterator[Callable[[], subprocess.Popen[bytes]]]:
    running: list[subprocess.Popen[bytes]] = []

    def start() -> subprocess.Popen[bytes]:
        environment = os.environ | {
            "DREIZACK_DATABASE": store.address,
            "DREIZACK_DATA": str(tmp_path),
            "PYTHONPATH": str(ROOT / "src"),
        }
        running.append(
            subprocess.Popen(
                [sys.executable, "-m", "dreizack.work.worker"], env=environment, start_new_session=True
            )
        )
        return running[-1]

    yield start
    for process in running:
        process.kill()
        process.wait()


def defer(store: Store, delivery: UUID) -> None:
    with procrastinate.App(
        connector=procrastinate.SyncPsycopgConnector(conninfo=store.address)
    ).open() as app:
        defer_delivery(app, delivery)


def test_a_killed_workers_delivery_is_resumed_and_ends_complete(
    store: Store, moving: Shot, tmp_path: Path, workers: Callable[[], subprocess.Popen[bytes]]
) -> None:
    delivery = order(store, moving, (320, 180))
    first = workers()
    defer(store, delivery)
    until(lambda: state(store, delivery)["done"] >= 4)
    os.killpg(first.pid, signal.SIGKILL)
    first.wait()
    done_before = state(store, delivery)["done"]
    final = tmp_path / "deliveries" / f"{delivery}.mp4"
    assert done_before < 12 and not final.exists()
    workers()
    until(lambda: state(store, delivery)["state"] == "complete")
    row = state(store, delivery)
    assert row["starts"] == 2 and row["done"] == 12
    found = probe(final)
    assert found["frames"] == 12 and found["pts"] == sorted(set(found["pts"]))
    # Frames are kept the moment they are traced: at most the one under way was traced again.
    assert len(list((tmp_path / "frames").glob("*/[!.]*.exr"))) == 12
    assert [p.name for p in (tmp_path / "deliveries").iterdir() if p.suffix == ".mp4"] == [final.name]


def test_cancelling_stops_within_a_moment_and_leaves_no_file(
    store: Store, moving: Shot, tmp_path: Path, workers: Callable[[], subprocess.Popen[bytes]]
) -> None:
    delivery, next_one = (
        order(store, moving, (640, 360), quality="final"),
        order(store, moving, (64, 36), last=2),
    )
    workers()
    defer(store, delivery)
    defer(store, next_one)
    until(lambda: state(store, delivery)["done"] >= 1)
    store.row("delivery_cancel", id=delivery)
    until(lambda: state(store, next_one)["state"] == "complete")
    assert state(store, delivery)["state"] == "cancelled" and state(store, delivery)["done"] < 12
    assert [p.name for p in (tmp_path / "deliveries").glob("*.mp4")] == [f"{next_one}.mp4"]


class FullDisk(FrameCache):
    def put(self, key: str, rgba: object) -> None:
        raise OSError(errno.ENOSPC, "No space left on device")


def test_a_full_disk_fails_with_a_sentence_and_can_be_ordered_again(
    store: Store, moving: Shot, tmp_path: Path
) -> None:
    delivery = order(store, moving, last=2)
    Deliveries(store, tmp_path / "deliveries", FullDisk(tmp_path / "frames")).run(delivery)
    row = state(store, delivery)
    assert row["state"] == "failed" and "disk is full" in row["why"]
    assert not list((tmp_path / "deliveries").glob("*.mp4")) and not list(
        (tmp_path / "deliveries").glob(".*.mp4")
    )
    again = order(store, moving, last=2)
    Deliveries(store, tmp_path / "deliveries", FrameCache(tmp_path / "frames")).run(again)
    assert state(store, again)["state"] == "complete"


def test_a_finished_delivery_is_not_rendered_again(store: Store, moving: Shot, tmp_path: Path) -> None:
    delivery = order(store, moving, last=1)
    deliveries = Deliveries(store, tmp_path / "deliveries", FrameCache(tmp_path / "frames"))
    deliveries.run(delivery)
    file = tmp_path / "deliveries" / f"{delivery}.mp4"
    before = file.stat().st_mtime_ns
    deliveries.run(delivery)
    assert file.stat().st_mtime_ns == before and state(store, delivery)["starts"] == 1


def test_a_worker_told_to_stop_hands_back_and_the_next_goes_on(
    store: Store, moving: Shot, tmp_path: Path, workers: Callable[[], subprocess.Popen[bytes]]
) -> None:
    delivery = order(store, moving, (640, 360), last=5, quality="final")
    first = workers()
    defer(store, delivery)
    until(lambda: state(store, delivery)["done"] >= 1)
    first.terminate()
    assert first.wait(timeout=20) is not None
    assert state(store, delivery)["state"] == "rendering"
    workers()
    until(lambda: state(store, delivery)["state"] == "complete")
    assert probe(tmp_path / "deliveries" / f"{delivery}.mp4")["frames"] == 6


def test_an_order_without_a_job_is_found_and_carried_out(
    store: Store, shot: Shot, workers: Callable[[], subprocess.Popen[bytes]]
) -> None:
    delivery = order(store, shot, (64, 36), last=1)
    with store.together() as on:
        on.execute("UPDATE deliveries SET ordered = now() - interval '1 minute'")
    workers()
    until(lambda: state(store, delivery)["state"] == "complete")


def test_a_lost_renderer_is_replaced(
    store: Store, moving: Shot, workers: Callable[[], subprocess.Popen[bytes]]
) -> None:
    delivery = order(store, moving, (320, 180))
    worker = workers()
    defer(store, delivery)
    until(lambda: state(store, delivery)["done"] >= 3)
    renderer = subprocess.run(
        ["pgrep", "-P", str(worker.pid), "-f", "spawn_main"], capture_output=True, text=True, check=True
    )
    os.kill(int(renderer.stdout.split()[0]), signal.SIGKILL)
    until(lambda: state(store, delivery)["state"] == "complete")
    assert state(store, delivery)["starts"] == 2 and worker.poll() is None


def test_frames_in_an_archive_are_called_by_what_they_are(store: Store, tmp_path: Path, shot: Shot) -> None:
    shot.name = "Ebb: low / water"
    delivery = order(store, shot, last=1, format="png")
    Deliveries(store, tmp_path, FrameCache(tmp_path / "frames")).run(delivery)
    assert state(store, delivery)["state"] == "complete"
    called = "slack-water-ebb-low-water-96x54"
    with zipfile.ZipFile(tmp_path / f"{delivery}.zip") as archive:
        assert archive.namelist() == [f"{called}/{called}.0000{frame}.png" for frame in (0, 1)]


def test_what_lacks_a_file_fails_with_a_sentence_and_nothing_of_it_is_kept(
    store: Store, tmp_path: Path, shot: Shot
) -> None:
    shot.backdrop.kind, shot.backdrop.picture = "picture", "picture-gone.png"
    delivery, frames = order(store, shot, last=1), FrameCache(tmp_path / "frames")
    Deliveries(store, tmp_path, frames).run(delivery)
    row = state(store, delivery)
    assert row["state"] == "failed" and "picture-gone.png of the backdrop is not in the library" in row["why"]
    assert not list((tmp_path / "frames").rglob("*.exr")) and not list(tmp_path.glob(f"{delivery}.mp4"))
