"""Terms of a surface that grow with the relief that is too fine to be seen."""

from __future__ import annotations

from typing import Any

from ..kernel.engine import arrays, engine
from .materials import CLEAR_COAT, DULL_COAT

mi, dr = engine(), arrays()

# By how much the renderer's distribution (Trowbridge & Reitz, 1975) must be narrower than Beckmann's, which
# slopes of a relief are nearer to, so that half of all facets lie within the same slope: ln 2.
MEDIAN = 0.6931


class RoughnessFilter(mi.Texture):  # type: ignore[misc, name-defined]
    """Roughness, anisotropy or gloss of the coat, with the variances of slopes that ``si.duv_dx`` holds.

    Squared roughness along each direction, as Beckmann's distribution has it, is twice the variance of its
    slopes; variances add up (Olano & Baker, LEAN Mapping, 2010, section 3).
    """

    def __init__(self, properties: Any) -> None:
        super().__init__(properties)
        self.gives = properties["gives"]
        self.roughness, self.anisotropy, self.gloss = mi.Float(0.5), mi.Float(0.0), mi.Float(1.0)
        self.picture = properties.get("picture", None)

    def traverse(self, callback: Any) -> None:
        for name in ("roughness", "anisotropy", "gloss"):
            callback.put(name, getattr(self, name), mi.ParamFlags.NonDifferentiable)
        if self.picture is not None:
            callback.put("picture", self.picture, mi.ParamFlags.NonDifferentiable)

    def parameters_changed(self, keys: Any = ()) -> None:
        # Data, not part of the compiled kernel.
        dr.make_opaque(self.roughness, self.anisotropy, self.gloss)

    def eval_1(self, si: Any, active: Any = True) -> Any:
        rest = si.duv_dx
        if self.gives == "gloss":
            dull = dr.lerp(mi.Float(DULL_COAT), mi.Float(CLEAR_COAT), self.gloss)
            return (DULL_COAT - dr.sqrt(dull * dull + MEDIAN * (rest.x + rest.y))) / (DULL_COAT - CLEAR_COAT)
        rough = dr.square(self.picture.eval_1(si, active) if self.picture is not None else self.roughness)
        # Burley, Physically Based Shading at Disney, 2012: one number for how far apart the two directions
        # are.
        aspect = dr.sqrt(1 - 0.9 * self.anisotropy)
        along = dr.sqrt(dr.square(rough / aspect) + 2 * MEDIAN * rest.x)
        across = dr.sqrt(dr.square(rough * aspect) + 2 * MEDIAN * rest.y)
        if self.gives == "anisotropy":
            return (1 - across / along) / 0.9
        return dr.sqrt(dr.sqrt(along * across))

    def eval(self, si: Any, active: Any = True) -> Any:
        return mi.Spectrum(self.eval_1(si, active))

    def mean(self) -> Any:
        return {"roughness": self.roughness, "anisotropy": self.anisotropy, "gloss": self.gloss}[self.gives]

    def is_spatially_varying(self) -> bool:
        return True

    def to_string(self) -> str:
        return f"RoughnessFilter[{self.gives}]"


mi.register_texture("widened", RoughnessFilter)
