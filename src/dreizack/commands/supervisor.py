"""Keeps database, server and worker alive: whatever dies is started again."""

from __future__ import annotations

import contextlib
import os
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path
from types import FrameType

from ..api.access import LOOPBACK, AccessPolicy
from ..store.cluster import Cluster, ClusterError
from ..work.orphans import DIE_WITH
from .lock import DataLock
from .places import ROOT

COMMANDS = {"server": "dreizack.api", "worker": "dreizack.work.worker"}
# Seconds between looks at what runs, and before what ended is started again: more each time it ends soon.
LOOK, PAUSE, MOST_PAUSE, SOON = 0.2, 0.5, 10.0, 20.0


class Ended(Exception):
    """Somebody wants the application to stop."""


@contextlib.contextmanager
def ended_by_signals() -> Iterator[None]:
    """Turn the usual signals, from the first moment on, into an orderly end."""

    def end(_number: int, _frame: FrameType | None) -> None:
        # Once is enough: what follows is the way out.
        for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
            signal.signal(number, signal.SIG_IGN)
        raise Ended

    before = {number: signal.signal(number, end) for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)}
    try:
        yield
    finally:
        for number, handler in before.items():
            signal.signal(number, handler)


class Supervisor:
    """Starts server and worker on a running database, and watches all three."""

    def __init__(self, port: int, data: Path, cluster: Cluster, access: AccessPolicy, lock: DataLock) -> None:
        self.port, self.cluster, self.access, self.lock = port, cluster, access, lock
        self.environment = os.environ | {
            "DREIZACK_DATABASE": cluster.address,
            "DREIZACK_DATA": str(data),
            "DREIZACK_PORT": str(port),
            "DREIZACK_HOSTS": ",".join(sorted(access.hosts - LOOPBACK)),
            "DREIZACK_TOKEN": access.token,
            "PYTHONPATH": str(ROOT / "src"),
            "MALLOC_ARENA_MAX": "2",
            DIE_WITH: str(os.getpid()),
        }
        self.running: dict[str, subprocess.Popen[bytes]] = {}
        self._began: dict[str, float] = {}
        self._due: dict[str, float] = {}
        self._pause: dict[str, float] = {}

    def seed(self) -> None:
        """Add the demo, in a process of its own: what making it needs should not stay in this one's
        memory."""
        # Own session: Ctrl-C reaches this process alone, which ends that one.
        if subprocess.run(
            [sys.executable, "-m", "dreizack.commands.seed"],
            env=self.environment,
            check=False,
            start_new_session=True,
        ).returncode:
            raise ClusterError(
                "the demo could not be added (see above); start with --no-demo to go without it"
            )

    def run(self, before_look: Callable[[], None] = lambda: None) -> None:
        """Until a signal raises Ended; whatever was started is stopped then. ``before_look`` is called a few
        times a second."""
        try:
            for name in COMMANDS:
                self._launch(name)
            self._await_answer()
            print(f"Dreizack is ready: {self.address}  (Ctrl-C stops it)", flush=True)
            while True:
                time.sleep(LOOK)
                before_look()
                self._look()
        finally:
            self._end()

    def restart(self) -> None:
        """End server and worker in order, and start them again at once."""
        self._end()
        self._due.clear()
        for name in COMMANDS:
            self._launch(name)

    @property
    def address(self) -> str:
        """Where the interface is opened, with the token where one is needed."""
        named = sorted(self.access.hosts - LOOPBACK)
        return f"http://{named[0] if named else '127.0.0.1'}:{self.port}" + (
            f"/?token={self.access.token}" if self.access.token else ""
        )

    def _look(self) -> None:
        """Start what has ended; what ends again and again is given longer pauses."""
        if not self.cluster.alive:
            print("The database ended unexpectedly; starting it again.", file=sys.stderr, flush=True)
            try:
                self.cluster.start()
            except ClusterError as why:
                print(f"dreizack: {why}; trying again", file=sys.stderr, flush=True)
                time.sleep(1)
        now = time.monotonic()
        for name, process in list(self.running.items()):
            if process.poll() is None:
                continue
            if name not in self._due:
                again = self._pause.get(name, PAUSE / 2) * 2 if now - self._began[name] < SOON else PAUSE
                self._pause[name] = min(again, MOST_PAUSE)
                self._due[name] = now + self._pause[name]
                print(
                    f"The {name} ended unexpectedly ({process.returncode}); starting it again.",
                    file=sys.stderr,
                    flush=True,
                )
            elif now >= self._due[name]:
                del self._due[name]
                self._launch(name)

    def _launch(self, name: str) -> None:
        # Own session: Ctrl-C reaches the supervisor alone, which stops its processes in order.
        self.running[name] = subprocess.Popen(
            [sys.executable, "-m", COMMANDS[name]],
            env=self.environment,
            start_new_session=True,
            pass_fds=[self.lock.fileno()],
        )
        self._began[name] = time.monotonic()

    def _await_answer(self) -> None:
        # Whatever proxy the environment names, this is our own machine.
        direct = urllib.request.build_opener(urllib.request.ProxyHandler({}))
        request = urllib.request.Request(
            f"http://127.0.0.1:{self.port}/api/productions",
            headers={"Authorization": f"Bearer {self.access.token or 'none'}"},
        )
        for _ in range(600):
            try:
                with direct.open(request, timeout=2):
                    return
            except (urllib.error.URLError, OSError):
                if self.running["server"].poll() is not None:
                    raise ClusterError("the server ended while starting; its message is above") from None
                time.sleep(0.1)
        raise ClusterError("the server did not answer within a minute")

    def _end(self) -> None:
        for process in self.running.values():
            process.terminate()
        for process in self.running.values():
            try:
                process.wait(timeout=8)
            except subprocess.TimeoutExpired:
                process.kill()
                process.wait()
