"""What a view that is drawn without tracing leaves out of a shot."""

from __future__ import annotations

from ..document import Floor, Light, Shot
from ..finish import TERMS
from .baking import Baked

# Surfaces smoother than this mirror what stands beside them.
MIRRORS = 0.45


def live_gaps(shot: Shot, baked: Baked) -> list[str]:
    """In words, what of the shot at these frames is seen in traced pictures alone, what matters most
    first."""
    most, standing = dict.fromkeys(TERMS, 0.0), 0
    mirrors = False
    for name, body in baked.titles.items():
        if not body.there.any():
            continue
        for term, value in zip(TERMS, body.terms.reshape(-1, len(TERMS)).max(axis=0), strict=True):
            most[term] = max(most[term], float(value))
        thing = shot.bodied.get(name)
        if not isinstance(thing, Floor):
            standing += 1
            rough = body.terms[..., TERMS.index("roughness")]
            smooth = (rough < MIRRORS) & (body.terms[..., TERMS.index("metallic")] > 0.2)
            coated = body.terms[..., TERMS.index("clearcoat")] > 0.2
            mirrors = mirrors or bool((smooth | coated).any())
    lights = [light for light in shot.things.values() if isinstance(light, Light)]
    told = {
        "things out of sight, mirrored in letters": mirrors,
        "light of what glows": most["emission"] > 0,
        "light through glass, and glass behind glass": most["transmission"] > 0,
        "light below surfaces": most["scatter"] > 0,
        "slides of lights": any(getattr(light, "slide", "") for light in lights),
        "light from things out of sight": standing > 0,
    }
    return [what for what, there in told.items() if there]
