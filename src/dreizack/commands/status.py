"""``dreizack status``: what runs, what waits, what failed lately, and how full disk and caches are."""

from __future__ import annotations

import fcntl
import json
import shutil
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path
from typing import Any

import psycopg
from psycopg.rows import dict_row

from ..store.cluster import Cluster, ClusterError
from ..store.queries import QUERIES
from ..work.logs import LOGS
from .places import data_folder

MB = 1024**2
LATELY = 5
FOLDERS = ("postgres", "library", "frames", "views", "posters", "chips", "deliveries", "uploads", LOGS)


def status() -> int:
    """Print what there is to say; 0 where the application runs and nothing failed lately, else 1."""
    data = data_folder()
    if not data.is_dir():
        print(f"There is no data at {data} yet; ./dreizack start makes it.")
        return 1
    running = _running(data)
    print(f"Application  {'runs' if running else 'does not run'} on {data}")
    for name, facts in _processes(data):
        print(f"  {name:<10} {facts}")
    try:
        failed = _database(data)
    except (ClusterError, psycopg.OperationalError, OSError):
        failed = 0
        print("Database     does not answer")
    faults = list(_faults(data))
    if faults:
        print("Faults lately (the logs have more)")
        for line in faults:
            print(f"  {line['at'][:19]}  {line['process']:<9} {line['message'][:100]}")
    free = shutil.disk_usage(data).free
    print(f"Disk         {free / MB:,.0f} MB free{'  (low)' if free < 1024 * MB else ''}")
    for name in FOLDERS:
        folder = data / name
        if folder.is_dir():
            print(
                f"  {name:<10} "
                f"{sum(f.stat().st_size for f in folder.rglob('*') if f.is_file()) / MB:10,.1f} MB"
            )
    return 0 if running and not failed and not faults else 1


def _running(data: Path) -> bool:
    """Whether somebody holds the lock on the data."""
    try:
        with (data / "lock").open("r+") as file:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return True
    except OSError:
        return False
    return False


def _processes(data: Path) -> Iterator[tuple[str, str]]:
    """Processes that work on the data, with the memory they take."""
    kinds = {"dreizack.api": "server", "dreizack.work.worker": "worker"}
    for folder in sorted(Path("/proc").glob("[0-9]*"), key=lambda p: int(p.name)):
        try:
            words = (folder / "cmdline").read_bytes().decode(errors="replace").split("\0")
            place = next(
                (
                    e[14:]
                    for e in (folder / "environ").read_bytes().decode(errors="replace").split("\0")
                    if e.startswith("DREIZACK_DATA=")
                ),
                "",
            )
            kind = next((name for module, name in kinds.items() if module in words), "")
            if kind and Path(place) == data:
                resident = int((folder / "statm").read_text().split()[1]) * 4096
                yield kind, f"process {folder.name}, {resident / MB:,.0f} MB"
        except (OSError, ValueError):
            continue


def _database(data: Path) -> int:
    """Print orders by state and the latest failures; how many of those there are."""
    cluster = Cluster(data / "postgres")
    found = cluster.running_port()
    if found is None:
        print("Database     does not run")
        return 0
    cluster.port = found
    with psycopg.connect(cluster.address, connect_timeout=3, row_factory=dict_row) as connection:
        states: list[dict[str, Any]] = connection.execute(QUERIES["delivery_states"].encode()).fetchall()
        failed = connection.execute(QUERIES["delivery_failures"].encode(), {"most": LATELY}).fetchall()
        machines: list[dict[str, Any]] = connection.execute(QUERIES["fleet_machines"].encode()).fetchall()
    print(f"Database     port {found}")
    print("Deliveries   " + (", ".join(f"{row['count']} {row['state']}" for row in states) or "none"))
    for row in machines:
        told = f"{row['frames']} frames, heard {row['ago']:.0f} s ago"
        print(f"Helper       {row['name']}: {told}{', traces one' if row['at_it'] else ''}")
    for row in failed:
        print(f"  failed {row['ended']:%Y-%m-%d %H:%M}  {row['name']}: {row['why']}")
    return len(failed)


def _faults(data: Path) -> Iterator[dict[str, str]]:
    """The latest lines of all logs that tell of a fault."""
    found = []
    for file in (data / LOGS).glob("*.log"):
        for text in file.read_text(errors="replace").splitlines()[-2000:]:
            try:
                line = json.loads(text)
            except ValueError:
                continue
            if line.get("level") in ("error", "critical"):
                found.append(line)
    now = datetime.now().astimezone()
    recent = [
        line for line in found if (now - datetime.fromisoformat(line["at"])).total_seconds() < 24 * 3600
    ]
    yield from sorted(recent, key=lambda line: str(line["at"]))[-LATELY:]
