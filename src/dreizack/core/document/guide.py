"""Lines of one's own that help to compose."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .ground import Section


class GuideLine(Section):
    """A line over the whole picture, at a share of its width ("upright") or of its height ("level")."""

    way: Literal["upright", "level"] = "upright"
    at: float = Field(0.5, ge=0, le=1)
