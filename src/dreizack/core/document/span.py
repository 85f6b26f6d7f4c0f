"""From where to where in time a thing is there, how it comes and how it leaves."""

from __future__ import annotations

from pydantic import Field, model_validator

from .ground import Section, frames, switch


class Span(Section):
    """A thing is there from frame ``start`` up to, but not including, ``end``.

    Keys within the first ``arrival`` frames belong to its beginning, those within the last ``departure`` to
    its end: they go along when that is moved.
    """

    whole: bool = switch(True, label="the whole shot", tells="There from the first frame to the last.")
    start: int = frames(0, label="comes at", tells="The first frame it is there.", when="whole=false")
    end: int = frames(
        100, label="gone at", tells="The first frame it is no longer there.", when="whole=false"
    )
    arrival: int = frames(
        0, label="arrival", tells="How long it takes to come; keys in it go along with the beginning."
    )
    departure: int = frames(
        0, label="departure", tells="How long it takes to leave; keys in it go along with the end."
    )

    @model_validator(mode="after")
    def in_order(self) -> Span:
        if not self.whole and self.end <= self.start:
            raise ValueError(
                f"it would be gone at frame {self.end} and come only at frame {self.start}; let it end later"
            )
        return self


def span() -> Span:
    """A field for a thing's span."""
    made: Span = Field(default_factory=Span, title="span")
    return made
