"""Named qualities of a delivery."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True)
class Quality:
    """``samples`` a pixel before denoising; ``denoiser`` names the filter's own quality."""

    samples: int
    denoiser: Literal["fast", "balanced", "high"]


QUALITIES: dict[str, Quality] = {
    "draft": Quality(4, "fast"),
    "good": Quality(16, "balanced"),
    "final": Quality(64, "balanced"),
}
