"""A limit on what a request may carry, whatever it says of its length."""

from __future__ import annotations

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from .problems import problem


class TooLarge(Exception):
    """More bytes than allowed came in."""


class BodyLimit:
    """Refuses request bodies above ``most`` bytes with 413; what is brought to the library may have ``brought``."""

    def __init__(self, app: ASGIApp, most: int, brought: int) -> None:
        self.app, self.most, self.brought = app, most, brought

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        most = self.brought if scope["path"].startswith("/api/library/") else self.most
        stated = next((v for k, v in scope["headers"] if k == b"content-length"), b"0")
        if stated.isdigit() and int(stated) > most:
            await self._refuse(most, scope, receive, send)
            return
        seen, begun = 0, False

        async def counted() -> Message:
            nonlocal seen
            message = await receive()
            seen += len(message.get("body", b""))
            if seen > most:
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
                await self._refuse(most, scope, receive, send)

    async def _refuse(self, most: int, scope: Scope, receive: Receive, send: Send) -> None:
        answer = problem(413, "Too large", f"a request may carry at most {most // 1024 // 1024} MB")
        await answer(scope, receive, send)
