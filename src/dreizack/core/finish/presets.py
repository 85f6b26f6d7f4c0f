"""Finishes to start from."""

from __future__ import annotations

from ..document import Colour, Finish

PRESETS: dict[str, Finish] = {
    "worn brass": Finish(base_colour=Colour(r=0.78, g=0.57, b=0.24), metallic=1, roughness=0.28),
    "polished steel": Finish(base_colour=Colour(r=0.66, g=0.67, b=0.69), metallic=1, roughness=0.12),
    "signal lacquer": Finish(base_colour=Colour(r=0.46, g=0.028, b=0.02), metallic=0, roughness=0.18),
    "chalk": Finish(base_colour=Colour(r=0.82, g=0.8, b=0.76), metallic=0, roughness=0.85),
}
