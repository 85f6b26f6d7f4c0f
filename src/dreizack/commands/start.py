"""``dreizack start``: database, server and worker, watched until Ctrl-C."""

from __future__ import annotations

import os
import secrets
import shutil
import socket
import sys
from pathlib import Path

from ..api.access import LOOPBACK, AccessPolicy
from ..core.files import remove_partial
from ..store import migrate
from ..store.cluster import Cluster, ClusterError, reach
from ..work import prepare_jobs
from .lock import AlreadyRunning, DataLock
from .places import data_folder
from .supervisor import Ended, Supervisor, ended_by_signals

LEAST_DISK = 500 * 1024**2


class StartError(RuntimeError):
    """Something is missing or unusable; the text says what to do."""


def start(port: int, demo: bool, serve: str = "") -> int:
    """Run until stopped; 0 after a clean stop, 1 with a sentence where it cannot run.

    ``serve`` names hosts (with commas between) under which other machines reach this one.
    """
    data = data_folder()
    # What is kept is nobody else's business on this machine.
    os.umask(0o077)
    cluster: Cluster | None = None
    try:
        with ended_by_signals():
            check(port, data, bool(serve))
            access = access_of(serve, data)
            with DataLock(data) as lock:
                remove_partial(data)
                cluster = Cluster(data / "postgres")
                address = cluster.start()
                migrate(address)
                prepare_jobs(address)
                supervisor = Supervisor(port, data, cluster, access, lock)
                if demo:
                    supervisor.seed()
                supervisor.run()
    except Ended:
        print("Stopped.", flush=True)
        return 0
    except (StartError, ClusterError, AlreadyRunning) as why:
        print(f"dreizack: {why}", file=sys.stderr)
        return 1
    finally:
        if cluster is not None:
            cluster.stop()
    return 0


def access_of(serve: str, data: Path) -> AccessPolicy:
    """Who may ask; whoever serves other machines gets a token that lasts."""
    named = {name.strip().lower() for name in serve.split(",") if name.strip()}
    try:
        if not named:
            return AccessPolicy.read(os.environ)
        return AccessPolicy(LOOPBACK | named, os.environ.get("DREIZACK_TOKEN") or kept_token(data))
    except ValueError as why:
        raise StartError(str(why)) from None


def kept_token(data: Path) -> str:
    """A token made once and kept where only this user reads it."""
    file = data / "token"
    if not file.exists():
        file.touch(mode=0o600)
        file.write_text(secrets.token_urlsafe(24))
    return file.read_text().strip()


def check(port: int, data: Path, everywhere: bool = False) -> None:
    """Refuse early, and say why."""
    if not 1 <= port <= 65535:
        raise StartError(f"{port} is no port; choose one from 1024 to 65535 with --port")
    try:
        reach(data)
        (data / ".probe").write_text("")
        (data / ".probe").unlink()
    except OSError as why:
        raise StartError(
            f"the data folder {data} cannot be written ({why.strerror}); set DREIZACK_DATA to one that can"
        ) from None
    if shutil.disk_usage(data).free < LEAST_DISK:
        raise StartError(
            f"less than 500 MB are free at {data}; free some space or set DREIZACK_DATA to another disk"
        )
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("0.0.0.0" if everywhere else "127.0.0.1", port))
        except PermissionError:
            raise StartError(f"port {port} needs special rights; choose one above 1023 with --port") from None
        except OSError:
            raise StartError(f"port {port} is taken by another program; choose another with --port") from None
