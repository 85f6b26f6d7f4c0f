"""``dreizack start``: database, server and worker, watched until Ctrl-C."""

from __future__ import annotations

import fcntl
import os
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path
from types import FrameType

from ..store import migrate
from ..store.cluster import Cluster, ClusterError
from ..work import prepare_jobs
from .places import ROOT, data_folder

LEAST_DISK = 500 * 1024**2


class StartError(RuntimeError):
    """Something is missing or unusable; the text says what to do."""


def start(port: int, demo: bool) -> int:
    """Run until stopped; 0 after a clean stop, 1 with a sentence where it cannot run."""
    data = data_folder()
    cluster: Cluster | None = None
    try:
        check(port, data)
        with only_one(data):
            cluster = Cluster(data / "postgres")
            address = cluster.start()
            migrate(address)
            prepare_jobs(address)
            supervisor = Supervisor(port, data, address)
            if demo:
                supervisor.seed()
            return supervisor.run()
    except (StartError, ClusterError) as why:
        print(f"dreizack: {why}", file=sys.stderr)
        return 1
    finally:
        if cluster is not None:
            cluster.stop()


def check(port: int, data: Path) -> None:
    """Refuse early, and say why."""
    if not 1 <= port <= 65535:
        raise StartError(f"{port} is no port; choose one from 1024 to 65535 with --port")
    try:
        data.mkdir(parents=True, exist_ok=True)
        (data / ".probe").write_text("")
        (data / ".probe").unlink()
    except OSError as why:
        raise StartError(f"the data folder {data} cannot be written ({why.strerror}); set DREIZACK_DATA to one that can") from None
    if shutil.disk_usage(data).free < LEAST_DISK:
        raise StartError(f"less than 500 MB are free at {data}; free some space or set DREIZACK_DATA to another disk")
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except PermissionError:
            raise StartError(f"port {port} needs special rights; choose one above 1023 with --port") from None
        except OSError:
            raise StartError(f"port {port} is taken by another program; choose another with --port") from None


class only_one:
    """Two starts on the same data would fight; the second is told so."""

    def __init__(self, data: Path) -> None:
        self.file = (data / "lock").open("w")

    def __enter__(self) -> None:
        try:
            fcntl.flock(self.file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            raise StartError("Dreizack is already running on this data; stop it first or set DREIZACK_DATA") from None

    def __exit__(self, *_: object) -> None:
        self.file.close()


COMMANDS = {"server": "dreizack.api", "worker": "dreizack.work.worker"}


class Supervisor:
    """Keeps server and worker alive: a process that dies is started again."""

    def __init__(self, port: int, data: Path, address: str) -> None:
        self.port = port
        self.environment = os.environ | {
            "DREIZACK_DATABASE": address, "DREIZACK_DATA": str(data), "DREIZACK_PORT": str(port),
            "PYTHONPATH": str(ROOT / "src"), "MALLOC_ARENA_MAX": "2",
        }
        self.running: dict[str, subprocess.Popen[bytes]] = {}
        self.stopping = False

    def seed(self) -> None:
        """Add the demo, in a process of its own: what making it needs should not stay in this one's memory."""
        if subprocess.run([sys.executable, "-m", "dreizack.commands.seed"], env=self.environment, check=False).returncode:
            raise StartError("the demo could not be added (see above); start with --no-demo to go without it")

    def run(self) -> int:
        for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
            signal.signal(number, self._stop)
        for name in COMMANDS:
            self._launch(name)
        self._await_answer()
        if not self.stopping:
            print(f"Dreizack is ready: http://127.0.0.1:{self.port}  (Ctrl-C stops it)", flush=True)
        while not self.stopping:
            time.sleep(0.2)
            for name, process in list(self.running.items()):
                if process.poll() is not None and not self.stopping:
                    print(f"The {name} ended unexpectedly ({process.returncode}); starting it again.", file=sys.stderr)
                    time.sleep(0.5)
                    self._launch(name)
        self._end()
        return 0

    def _launch(self, name: str) -> None:
        # Own session: Ctrl-C reaches the supervisor alone, which stops its processes in order.
        self.running[name] = subprocess.Popen(
            [sys.executable, "-m", COMMANDS[name]], env=self.environment, start_new_session=True
        )

    def _await_answer(self) -> None:
        address = f"http://127.0.0.1:{self.port}/api/productions"
        for _ in range(600):
            if self.stopping:
                return
            try:
                with urllib.request.urlopen(address, timeout=2):
                    return
            except (urllib.error.URLError, OSError):
                if self.running["server"].poll() is not None:
                    raise StartError("the server ended while starting; its message is above") from None
                time.sleep(0.1)
        raise StartError("the server did not answer within a minute")

    def _stop(self, _number: int, _frame: FrameType | None) -> None:
        self.stopping = True

    def _end(self) -> None:
        for process in self.running.values():
            process.terminate()
        for process in self.running.values():
            try:
                process.wait(timeout=8)
            except subprocess.TimeoutExpired:
                process.kill()
                process.wait()
        print("Stopped.", flush=True)
