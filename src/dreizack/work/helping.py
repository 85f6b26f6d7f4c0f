"""A machine that helps another one: it asks for pictures, traces them, and brings them back.

All that is needed goes over the address that the other machine serves; nothing is written but a folder of
library files, each checked against the content it is named by.
"""

from __future__ import annotations

import hashlib
import json
import re
import threading
import time
import urllib.error
import urllib.request
import zlib
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from pathlib import Path
from typing import Any
from urllib.parse import parse_qs, quote, urlsplit
from uuid import uuid4

import numpy as np
from numpy.typing import NDArray

from .. import __version__
from ..core.document import Shot
from ..core.files import write_whole
from ..core.media import Order
from ..core.media.sharing import clean_picture, picture_key, state_at, traced
from ..core.render import RawPasses, Stage, Stopped
from ..core.scene import RENDER_VERSION, BodyStore

# Seconds between two questions where nothing is to be done, between two words that we are still there, for an
# answer, and for which we go on asking somebody who does not answer.
REST, WORD, PATIENCE, GONE = 1.0, 8.0, 60.0, 600.0
# The largest number that fits into half a float.
HALF = 65504.0
NAMED_BY_CONTENT = re.compile(r"(?:.*-)?([0-9a-f]{20})\.[a-z0-9]{1,8}")


class Refused(Exception):
    """Why this machine cannot help; a sentence for whoever started it."""


class Address:
    """The server that is helped: an address as it was printed, with or without a token."""

    def __init__(self, printed: str, token: str = "") -> None:
        parts = urlsplit(printed if "//" in printed else f"http://{printed}")
        if parts.scheme not in ("http", "https") or not parts.netloc:
            raise Refused(f"'{printed}' is no address; copy the one that ./dreizack start printed")
        self.base = f"{parts.scheme}://{parts.netloc}/api/fleet"
        self.token = token or "".join(parse_qs(parts.query).get("token", []))

    def ask(self, method: str, path: str, body: bytes | None = None, kind: str = "application/json") -> bytes:
        """The answer; Refused where it is one for good, OSError where nobody answers."""
        headers = {"Content-Type": kind} | ({"Authorization": f"Bearer {self.token}"} if self.token else {})
        asked = urllib.request.Request(f"{self.base}{path}", body, headers, method=method)
        try:
            with urllib.request.urlopen(asked, timeout=PATIENCE) as answer:
                data: bytes = answer.read()
                return data
        except urllib.error.HTTPError as why:
            said = _sentence(why)
            if why.code >= 500:
                raise OSError(said) from None
            raise Refused(said) from None


def _sentence(why: urllib.error.HTTPError) -> str:
    try:
        found = json.loads(why.read(10_000))
        return str(found.get("detail") or found.get("title"))
    except (ValueError, OSError, AttributeError):
        return f"the answer was {why.code}"


class Machine:
    """One that helps, until told to stop."""

    def __init__(self, address: Address, name: str, library: Path, said: Callable[[str], None]) -> None:
        self.address, self.name, self.library, self.said = address, name, library, said
        self._stage = Stage(BodyStore())
        self._orders: dict[str, tuple[Shot, Order]] = {}
        self._beside = ThreadPoolExecutor(1, "finishing")
        # What is being brought back, by its key: it stays ours while we ask for the next one.
        self._finishing: tuple[str, Future[None]] | None = None
        self.done = 0
        # Another one after us, or beside us, is not us.
        self.run = uuid4().hex[:8]

    def help(self, stopped: Callable[[], bool]) -> None:
        """Take pictures one after the other. Refused where the server does not want us."""
        away = 0.0
        threading.Thread(target=self._words, args=(stopped,), daemon=True, name="words").start()
        while not stopped():
            try:
                wanted = self._post("/take")
                away = 0.0
            except OSError as why:
                away += REST
                if away >= GONE:
                    raise Refused(f"nobody has answered for ten minutes: {why}") from None
                time.sleep(REST)
                continue
            if wanted is None:
                self._finished()
                time.sleep(REST)
                continue
            self._one(wanted, stopped)
        self._finished()

    def _one(self, wanted: dict[str, Any], stopped: Callable[[], bool]) -> None:
        key, at = wanted["key"], float(wanted["at"])
        begun = time.monotonic()
        try:
            shot, order = self._order(wanted["order"])
            state = state_at(shot, at)
            if picture_key(state, order) != key:
                self.said(f"a picture at frame {at:g} comes out as another one here; left to others")
                return
            found = traced(self._stage, state, order, stopped)
        except Stopped:
            return
        except Refused as why:
            # Somebody else did it meanwhile, or nobody wants it any more.
            self.said(str(why))
            return
        except OSError as why:
            self.said(f"it could not be fetched: {why}")
            return
        # The next one is traced meanwhile; one at a time waits for that.
        self._finished()
        self._finishing = key, self._beside.submit(self._finish, found, order, key, at, begun)

    def _finished(self) -> None:
        """Wait until what was traced last is brought back."""
        if self._finishing is not None:
            self._finishing[1].result()
            self._finishing = None

    def _finish(self, found: RawPasses, order: Order, key: str, at: float, begun: float) -> None:
        try:
            self._bring(key, clean_picture(found, order), time.monotonic() - begun)
        except Refused as why:
            self.said(str(why))
        except OSError as why:
            self.said(f"it could not be brought back: {why}")
        else:
            self.done += 1
            self.said(f"frame {at:g} in {time.monotonic() - begun:.1f} s")

    def _order(self, name: str) -> tuple[Shot, Order]:
        if name not in self._orders:
            told = json.loads(self.address.ask("GET", f"/orders/{quote(name)}"))
            for file, size in told["files"].items():
                self._fetch(file, size)
            shot = Shot.model_validate_json(told["document"])
            # A few are enough: orders come one after the other.
            while len(self._orders) >= 4:
                self._orders.pop(next(iter(self._orders)))
            self._orders[name] = shot, Order(0, 0, told["width"], told["height"], told["quality"])
        return self._orders[name]

    def _fetch(self, name: str, size: int) -> None:
        """A file of the library, once; checked by what its name says of its content."""
        if not re.fullmatch(r"[a-z0-9][a-z0-9-]{0,99}\.[a-z0-9]{1,8}", name):
            raise Refused(f"'{name[:60]}' is no name of a file")
        path = self.library / name
        if path.is_file() and path.stat().st_size == size:
            return
        data = self.address.ask("GET", f"/files/{quote(name)}")
        content = NAMED_BY_CONTENT.fullmatch(name)
        if content and hashlib.blake2b(data, digest_size=10).hexdigest() != content[1]:
            raise OSError(f"{name} did not come as it is named")
        write_whole(path, data)

    def _bring(self, key: str, picture: NDArray[np.float32], took: float) -> None:
        rows = np.clip(picture, -HALF, HALF).astype(np.float16)
        who = f"name={quote(self.name)}&run={self.run}"
        where = f"/frames/{key}?{who}&channels={picture.shape[2]}&took={took:.3f}"
        self.address.ask("PUT", where, zlib.compress(rows.tobytes(), 1), "application/octet-stream")

    def _post(self, path: str) -> Any:
        holds = self._finishing[0] if self._finishing is not None else ""
        body = {
            "name": self.name,
            "run": self.run,
            "version": f"{__version__} {RENDER_VERSION}",
            "holds": holds,
        }
        answer = self.address.ask("POST", path, json.dumps(body).encode())
        return json.loads(answer) if answer else None

    def _words(self, stopped: Callable[[], bool]) -> None:
        """Say again and again that we are still there."""
        while not stopped():
            time.sleep(WORD)
            try:
                self._post("/alive")
            except (OSError, Refused):
                continue
