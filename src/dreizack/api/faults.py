"""Faults nobody foresaw: answered with a number that leads to the traceback in the log."""

from __future__ import annotations

import logging
import secrets

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from .problems import problem

LOG = logging.getLogger(__name__)


class FaultAnswers:
    """Logs whatever a route raises, and answers with problem details unless an answer has begun."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        begun = False

        async def watched(message: Message) -> None:
            nonlocal begun
            begun = True
            await send(message)

        try:
            await self.app(scope, receive, watched)
        except Exception:
            number = secrets.token_hex(4)
            LOG.exception(
                "fault %s in %s %s", number, scope.get("method", scope["type"]), scope.get("path", "")
            )
            if begun or scope["type"] != "http":
                raise
            said = f"nothing that was saved is lost; the log has this fault under the number {number}"
            await problem(500, "A fault in Dreizack", said, number=number)(scope, receive, send)
