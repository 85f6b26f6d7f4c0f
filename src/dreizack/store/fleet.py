"""Frames shared out between this machine and others that help."""

from __future__ import annotations

import time
from contextlib import suppress
from uuid import UUID, uuid4

from psycopg import OperationalError

from ..core.document import Shot
from ..core.media.order import Order
from ..core.media.sharing import Wanted
from .connection import Store

# Seconds for which a picture is somebody's without a word from them; a machine says something more often.
HELD, OURS = 45.0, 900.0
# Seconds without a word after which a machine counts as gone, and between looks whether there is one.
GONE, LOOK = 30.0, 2.0


class FleetSharing:
    """Shares out one order; everybody's claims stand in the database, and go by its clock alone. While it is
    away everything is ours."""

    def __init__(self, store: Store) -> None:
        self.store = store
        self.name = f"here {uuid4().hex[:8]}"
        self._order: UUID | None = None
        self._offered = 0
        self._looked, self._helped = -LOOK, False

    def helped(self) -> bool:
        """Whether there is a machine that helps just now."""
        if time.monotonic() - self._looked >= LOOK:
            self._looked = time.monotonic()
            self._helped = False
            with suppress(OperationalError):
                row = self.store.row("fleet_helped", seconds=GONE)
                self._helped = bool(row and row["helped"])
        return self._helped

    def offer(self, shot: Shot, order: Order, wanted: list[Wanted]) -> None:
        """Let others trace these, in this order."""
        with suppress(OperationalError):
            self._offer(shot, order, wanted)

    def _offer(self, shot: Shot, order: Order, wanted: list[Wanted]) -> None:
        if self._order is None:
            row = self.store.row(
                "fleet_order",
                document=shot.model_dump_json(),
                width=order.width,
                height=order.height,
                quality=order.quality,
            )
            assert row is not None, "a new row comes back"
            self._order = row["id"]
        self.store.rows(
            "fleet_offer",
            keys=[one.key for one in wanted],
            orders=[self._order] * len(wanted),
            # More that is offered later is in order of its frames, too.
            places=[self._offered + place for place in range(len(wanted))],
            at=[one.at for one in wanted],
            passed=[one.passed for one in wanted],
            named=[one.named for one in wanted],
        )
        self._offered += len(wanted)

    def claim(self, key: str) -> bool:
        """Whether a picture is ours to trace; not where another machine is at it."""
        if self._order is None:
            return True
        with suppress(OperationalError):
            return self.store.row("fleet_claim", key=key, who=self.name, seconds=OURS) is not None
        return True

    def another(self) -> Wanted | None:
        """One of the order that nobody is at, which is ours now; None where there is none left."""
        if self._order is None:
            return None
        with suppress(OperationalError):
            row = self.store.row("fleet_take", who=self.name, seconds=OURS, part_of=self._order)
            return None if row is None else Wanted(row["key"], row["at"], row["passed"], row["named"])
        return None

    def done(self, key: str) -> None:
        """A picture is there."""
        if self._order is not None:
            with suppress(OperationalError):
                self.store.rows("fleet_done", key=key)

    def close(self) -> None:
        """Nothing of the order is wanted any more."""
        if self._order is not None:
            with suppress(OperationalError):
                self.store.rows("fleet_end", id=self._order)
            self._order = None
