"""Pictures that letters change, each in its own way."""

from __future__ import annotations

from typing import Any

from ..kernel.engine import arrays, engine
from .materials import SMOOTHEST

mi, dr = engine(), arrays()


class LetterTexture(mi.Texture):  # type: ignore[misc, name-defined]
    """A picture times what letters have of their own, or with that added, within 0..1."""

    def __init__(self, properties: Any) -> None:
        super().__init__(properties)
        self.picture, self.own = properties["picture"], properties["own"]
        self.adds = properties["adds"]

    def traverse(self, callback: Any) -> None:
        callback.put("picture", self.picture, mi.ParamFlags.NonDifferentiable)

    def eval_1(self, si: Any, active: Any = True) -> Any:
        picture, own = self.picture.eval_1(si, active), self.own.eval_1(si, active)
        return dr.clip(picture + own, SMOOTHEST, 1.0) if self.adds else picture * own

    def eval(self, si: Any, active: Any = True) -> Any:
        if self.adds:
            return mi.Spectrum(self.eval_1(si, active))
        return self.picture.eval(si, active) * self.own.eval(si, active)

    def mean(self) -> Any:
        return self.picture.mean()

    def is_spatially_varying(self) -> bool:
        return True

    def to_string(self) -> str:
        return f"LetterTexture[{'adds' if self.adds else 'times'}]"


mi.register_texture("by letter", LetterTexture)
