"""What waits to be sent through one socket, never more than so much."""

from __future__ import annotations

import asyncio
from collections import deque
from typing import Any

MOST_NEWS = 500
MOST_PICTURES = 12


class Overflow(Exception):
    """A reader so slow that news would be lost: it should connect again and ask how things stand."""


class Outbox:
    """News in order, and the latest pictures; used on one event loop.

    Pictures that nobody took in time give way to newer ones; news never do.
    """

    def __init__(self, news: int = MOST_NEWS, pictures: int = MOST_PICTURES) -> None:
        self._news: deque[str] = deque()
        self._pictures: deque[Any] = deque(maxlen=pictures)
        self._most = news
        self._filled = asyncio.Event()

    def tell(self, text: str) -> None:
        """News to send; more than are allowed end it for the reader."""
        if len(self._news) <= self._most:
            self._news.append(text)
        self._filled.set()

    def show(self, picture: Any) -> None:
        self._pictures.append(picture)
        self._filled.set()

    def __len__(self) -> int:
        return len(self._news) + len(self._pictures)

    async def take(self) -> Any:
        """The next thing to send, news first; raises Overflow where news had to be left out."""
        while not self._news and not self._pictures:
            self._filled.clear()
            await self._filled.wait()
        if len(self._news) > self._most:
            raise Overflow
        return self._news.popleft() if self._news else self._pictures.popleft()
