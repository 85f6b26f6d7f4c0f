"""Headers on every answer: what a browser may load, frame, guess and pass on."""

from __future__ import annotations

from starlette.types import ASGIApp, Message, Receive, Scope, Send

# Styles are written into the page by the interface's components; pictures come as data of its own.
CONTENT_SECURITY_POLICY = "; ".join(
    (
        "default-src 'self'",
        "script-src 'self'",
        "style-src 'self' 'unsafe-inline'",
        "img-src 'self' blob: data:",
        "media-src 'self' blob:",
        "font-src 'self' data:",
        "connect-src 'self' blob: data:",
        "worker-src 'self' blob:",
        "object-src 'none'",
        "base-uri 'none'",
        "form-action 'none'",
        "frame-ancestors 'none'",
    )
)
HEADERS = {
    "Content-Security-Policy": CONTENT_SECURITY_POLICY,
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "no-referrer",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Permissions-Policy": "camera=(), microphone=(), geolocation=(), payment=(), usb=()",
}


class SecurityHeaders:
    """Adds :data:`HEADERS` (W3C CSP Level 3, Fetch, Referrer Policy, Permissions Policy) to every HTTP
    answer."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app
        self._added = [(name.lower().encode(), value.encode()) for name, value in HEADERS.items()]

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        async def with_headers(message: Message) -> None:
            if message["type"] == "http.response.start":
                message["headers"] = [*message.get("headers", []), *self._added]
            await send(message)

        await self.app(scope, receive, with_headers if scope["type"] == "http" else send)
