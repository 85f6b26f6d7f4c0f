"""``dreizack dev``: the application with reload, for people who change it."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from pathlib import Path

from ..api.access import LOOPBACK, AccessPolicy
from ..store import migrate
from ..store.cluster import Cluster
from ..work import prepare_jobs
from .lock import DataLock
from .places import ROOT, data_folder
from .start import check
from .supervisor import Ended, Supervisor, ended_by_signals

WEB = ROOT / "web"


def dev(port: int) -> int:
    """Server and worker begin anew when a Python file changes; the interface comes from Vite, which replaces
    what changes."""
    data, pages = data_folder(), None
    cluster: Cluster | None = None
    try:
        with ended_by_signals():
            check(port, data)
            with DataLock(data) as lock:
                cluster = Cluster(data / "postgres")
                address = cluster.start()
                migrate(address)
                prepare_jobs(address)
                supervisor = Supervisor(port, data, cluster, AccessPolicy(LOOPBACK), lock)
                supervisor.seed()
                pages = subprocess.Popen(
                    ["npx", "vite", "--port", str(port + 1), "--host", "127.0.0.1"],
                    cwd=WEB,
                    env=os.environ | {"DREIZACK_PORT": str(port)},
                )
                print(f"The interface, with reload: http://127.0.0.1:{port + 1}", flush=True)
                supervisor.run(before_look=_Changes(ROOT / "src", supervisor))
    except Ended:
        print("Stopped.", flush=True)
    finally:
        if pages is not None:
            pages.terminate()
        if cluster is not None:
            cluster.stop()
    return 0


class _Changes:
    """Ends server and worker, which their supervisor then starts again, when a source has changed."""

    def __init__(self, folder: Path, supervisor: Supervisor) -> None:
        self.folder, self.supervisor, self.latest, self.next = folder, supervisor, self._newest(folder), 0.0

    def __call__(self) -> None:
        if time.monotonic() < self.next:
            return
        self.next = time.monotonic() + 1.0
        newest = self._newest(self.folder)
        if newest > self.latest:
            self.latest = newest
            print("A source has changed; starting again.", file=sys.stderr, flush=True)
            self.supervisor.restart()

    @staticmethod
    def _newest(folder: Path) -> float:
        return max((file.stat().st_mtime for file in folder.rglob("*.py")), default=0.0)
