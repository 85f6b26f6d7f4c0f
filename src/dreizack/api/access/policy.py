"""What is allowed: host names the server answers to, and the token it asks for."""

from __future__ import annotations

import hmac
import re
from collections.abc import Mapping
from dataclasses import dataclass
from urllib.parse import urlsplit

LOOPBACK = frozenset({"127.0.0.1", "localhost", "::1"})
HOST_NAME = re.compile(r"[a-z0-9]([a-z0-9.-]{0,252}[a-z0-9])?|[0-9a-f:]{2,39}")
LEAST_TOKEN = 16


@dataclass(frozen=True)
class AccessPolicy:
    """Host names (lower case, without port) and, where others than this machine are among them, a token.

    Raises ValueError, with a sentence, for names that are none and for names without a token.
    """

    hosts: frozenset[str] = LOOPBACK
    token: str = ""

    def __post_init__(self) -> None:
        odd = sorted(host for host in self.hosts if not HOST_NAME.fullmatch(host))
        if odd:
            raise ValueError(
                f"'{odd[0][:60]}' is no host name; write names or addresses without port, such as "
                "studio.local"
            )
        if self.hosts - LOOPBACK and len(self.token) < LEAST_TOKEN:
            raise ValueError(
                f"whoever serves other machines needs a token of at least {LEAST_TOKEN} characters"
            )

    @classmethod
    def read(cls, environment: Mapping[str, str]) -> AccessPolicy:
        """From ``DREIZACK_HOSTS`` (names with commas between) and ``DREIZACK_TOKEN``."""
        named = environment.get("DREIZACK_HOSTS", "").lower().split(",")
        return cls(
            LOOPBACK | {name.strip() for name in named if name.strip()}, environment.get("DREIZACK_TOKEN", "")
        )

    def knows(self, host: str) -> bool:
        """Whether a ``Host`` header (RFC 9110, 7.2) names this server: against name rebinding."""
        return host_name(host) in self.hosts

    def admits(self, token: str) -> bool:
        """Whether a token is the right one; without one of our own everybody is admitted."""
        return not self.token or hmac.compare_digest(token.encode(), self.token.encode())


def host_name(host: str) -> str:
    """The name in a ``Host`` header, lower case; empty where it cannot be one.

    >>> host_name("Studio.local:7340"), host_name("[::1]:80"), host_name("a b")
    ('studio.local', '::1', '')
    """
    try:
        parts = urlsplit(f"//{host}")
        return (
            ""
            if parts.username is not None or parts.path or not host.isprintable() or " " in host
            else (parts.hostname or "")
        )
    except ValueError:
        return ""
