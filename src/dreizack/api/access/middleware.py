"""The check itself: host, origin and token of every request and every socket."""

from __future__ import annotations

from http.cookies import CookieError, SimpleCookie
from urllib.parse import parse_qs, urlencode, urlsplit

from starlette.datastructures import Headers
from starlette.responses import RedirectResponse, Response
from starlette.types import ASGIApp, Receive, Scope, Send

from ..problems import problem
from .policy import AccessPolicy

SAFE_METHODS = frozenset({"GET", "HEAD", "OPTIONS"})
COOKIE = "dreizack-token"
YEAR = 365 * 24 * 3600


class AccessControl:
    """Lets through what the policy allows; refuses the rest with problem details, sockets with 403.

    A page of another site can make a browser send requests here, but not forge ``Origin`` and
    ``Sec-Fetch-Site`` (W3C Fetch Metadata); what sends neither is no browser.
    """

    def __init__(self, app: ASGIApp, policy: AccessPolicy) -> None:
        self.app, self.policy = app, policy

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] not in ("http", "websocket"):
            await self.app(scope, receive, send)
            return
        refused = self._refusal(scope, Headers(scope=scope))
        if refused is None:
            await self.app(scope, receive, send)
        elif scope["type"] == "http":
            await refused(scope, receive, send)
        else:
            # Closed before it was accepted: the handshake is answered with 403.
            await receive()
            await send({"type": "websocket.close", "code": 1008})

    def _refusal(self, scope: Scope, headers: Headers) -> Response | None:
        host = headers.get("host", "")
        if not self.policy.knows(host):
            return problem(
                421,
                "Not this server",
                "this server does not go by that name; name it in DREIZACK_HOSTS if it should",
            )
        if self._foreign(scope, headers, host):
            return problem(
                403, "Not from here", "another site sent this request; open the address of Dreizack itself"
            )
        if not self.policy.token:
            return None
        asked = parse_qs(scope.get("query_string", b"").decode("latin-1"))
        if (
            scope["type"] == "http"
            and scope["method"] == "GET"
            and self.policy.admits("".join(asked.pop("token", [])))
        ):
            return _welcome(scope, asked, self.policy.token)
        if self.policy.admits(_token(headers)):
            return None
        return problem(
            401,
            "A token is needed",
            "open the whole address that whoever started Dreizack was shown; it ends with a token",
        )

    def _foreign(self, scope: Scope, headers: Headers, host: str) -> bool:
        """Whether another site makes a browser ask for something that must be asked for from here."""
        changing = scope["type"] == "websocket" or scope["method"] not in SAFE_METHODS
        if headers.get("sec-fetch-site", "same-origin") not in ("same-origin", "none") and (
            changing or scope["path"].startswith("/api/")
        ):
            return True
        origin = headers.get("origin")
        return changing and origin is not None and _authority(origin) != host.lower()


def _authority(origin: str) -> str:
    """Host and port of an ``Origin`` header; empty for "null" and what is none."""
    try:
        parts = urlsplit(origin)
    except ValueError:
        return ""
    return parts.netloc.lower() if parts.scheme in ("http", "https") else ""


def _token(headers: Headers) -> str:
    """The token in ``Authorization: Bearer`` (RFC 6750) or in the cookie of the interface; empty where there
    is none."""
    scheme, _, value = headers.get("authorization", "").partition(" ")
    if scheme.lower() == "bearer" and value:
        return value.strip()
    try:
        cookie = SimpleCookie(headers.get("cookie", "")).get(COOKIE)
    except CookieError:
        return ""
    return cookie.value if cookie else ""


def _welcome(scope: Scope, rest: dict[str, list[str]], token: str) -> Response:
    """Keep the token in a cookie that scripts cannot read, and take it out of the address."""
    path = "/" + scope["path"].lstrip("/\\")
    answer = RedirectResponse(path + (f"?{urlencode(rest, doseq=True)}" if rest else ""), status_code=303)
    answer.set_cookie(
        COOKIE,
        token,
        max_age=YEAR,
        httponly=True,
        samesite="strict",
        secure=scope.get("scheme") == "https",
        path="/",
    )
    return answer
