"""A limit on what a request may carry, whatever it says of its length."""

from __future__ import annotations

from collections.abc import Callable

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from .problems import problem


class TooLarge(Exception):
    """More bytes than allowed came in."""


class BodyLimit:
    """Refuses request bodies with more bytes than ``most`` says for their address, with 413."""

    def __init__(self, app: ASGIApp, most: Callable[[str], int]) -> None:
        self.app, self.most = app, most

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        most = self.most(scope["path"])
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
            # Whatever a route makes of the interruption, the answer is ours.
            if seen <= most or begun:
                begun = True
                await send(message)

        try:
            await self.app(scope, counted, watched)
        except Exception:
            if seen <= most:
                raise
        if seen > most and not begun:
            await self._refuse(most, scope, receive, send)

    async def _refuse(self, most: int, scope: Scope, receive: Receive, send: Send) -> None:
        answer = problem(413, "Too large", f"a request may carry at most {most // 1024 // 1024} MB")
        await answer(scope, receive, send)
