"""What every kind of thing that has a body answers about itself; a kind says where it differs."""

from __future__ import annotations

from typing import ClassVar

from .ground import Section


class BodiedSection(Section):
    """A thing with a body."""

    # Whether chords stand for curves in it, as finely as the camera comes near.
    curved: ClassVar[bool] = True

    @property
    def extent(self) -> float:
        """How large its letters, or it itself, are about, in metres."""
        return 1.0

    @property
    def own_finishes(self) -> list[str]:
        """Pointers, below the thing, of the finishes its pieces wear by themselves."""
        return ["/finish"]

    @property
    def goes_by(self) -> str:
        """The name of the title that it goes by in its form; empty where there is none."""
        return ""

    @property
    def runs(self) -> bool:
        """Whether it changes its form without keys."""
        return False
