"""A shot in a picture of another shape."""

from __future__ import annotations

from typing import Literal

from ..document import Shot

# Shapes that differ by less than so much are the same: sizes are whole pixels.
SAME_SHAPE = 0.004


def reframed(shot: Shot, width: int, height: int, rule: Literal["fit", "fill"]) -> Shot:
    """The shot for a picture ``width`` × ``height``: where its shape is another, all that was seen is seen
    and more beside it ("fit"), or what does not fit is cut off ("fill").

    A lens is described by the width of the sensor (Ray, Applied Photographic Optics, 2002, ch. 5): a narrower
    picture of the same sensor keeps the width, a wider one keeps the height on a wider sensor.
    """
    wider = (width / height) / shot.format.aspect
    if abs(wider - 1) < SAME_SHAPE:
        return shot
    made = shot.model_copy(deep=True)
    # As fine as before: how finely curves are cut goes by the pixels of a shot, not by those of an order.
    fine = shot.format
    size = {"width": fine.width, "height": even(fine.width * height / width)}
    if wider > 1:
        size = {"width": even(fine.height * width / height), "height": fine.height}
    made.format = fine.model_copy(update={side: min(8192, pixels) for side, pixels in size.items()})
    if (wider > 1) == (rule == "fit"):
        made.camera.sensor_width = min(120.0, max(2.0, shot.camera.sensor_width * wider))
    return made


def even(pixels: float) -> int:
    """The nearest even number of pixels."""
    return max(16, round(pixels / 2) * 2)
