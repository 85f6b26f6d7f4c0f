"""What takes a while tells, over the socket, how far it is."""

from __future__ import annotations

import time
from collections.abc import Callable
from uuid import UUID

from .services import Behind

# Seconds between two words of how far it is.
EVERY = 0.2


def share_teller(behind: Behind, known_as: UUID | None) -> Callable[[float], None]:
    """Tells tabs the share (0 to 1) that is done of what is ``known_as`` this; nothing where it has no
    name."""
    last = [0.0]

    def told(share: float) -> None:
        now = time.monotonic()
        if known_as is not None and now - last[0] >= EVERY:
            last[0] = now
            behind.store.tell("reading", id=str(known_as), done=round(1000 * share), total=1000)

    return told
