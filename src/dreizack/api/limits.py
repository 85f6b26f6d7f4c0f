"""A limit on what a request may carry, whatever it says of its length."""

from __future__ import annotations

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from .problems import problem


class TooLarge(Exception):
    """More bytes than allowed came in."""


class BodyLimit:
    """Refuses request bodies above ``most`` bytes with 413."""

    def __init__(self, app: ASGIApp, most: int) -> None:
        self.app, self.most = app, most

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        stated = next((v for k, v in scope["headers"] if k == b"content-length"), b"0")
        if stated.isdigit() and int(stated) > self.most:
            await self._refuse(scope, receive, send)
            return
        seen, begun = 0, False

        async def counted() -> Message:
            nonlocal seen
            message = await receive()
            seen += len(message.get("body", b""))
            if seen > self.most:
                raise TooLarge
            return message

        async def watched(message: Message) -> None:
            nonlocal begun
            begun = True
            await send(message)

        try:
            await self.app(scope, counted, watched)
        except TooLarge:
            if not begun:
                await self._refuse(scope, receive, send)

    async def _refuse(self, scope: Scope, receive: Receive, send: Send) -> None:
        answer = problem(413, "Too large", f"a request may carry at most {self.most // 1024 // 1024} MB")
        await answer(scope, receive, send)
