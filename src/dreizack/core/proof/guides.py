"""Lines that help to compose: areas that every screen shows, the middle, thirds, other formats within."""

from __future__ import annotations

from dataclasses import dataclass

# Shares of width and height that action and titles keep to (EBU R 95, 2.2 and 2.3: 3.5 and 5 % at each side;
# SMPTE ST 2046-1, 5.1 and 5.2: 93 and 90 %).
ACTION_SAFE, TITLE_SAFE = 0.93, 0.90
FORMATS = {"16:9": 16 / 9, "9:16": 9 / 16, "1:1": 1.0, "4:5": 4 / 5, "4:3": 4 / 3, "2.39:1": 2.39}
Box = tuple[float, float, float, float]
Line = tuple[float, float, float, float]


@dataclass(frozen=True)
class Guide:
    """One to be drawn over a picture: ``boxes`` (left, top, width, height) and ``lines`` (from, to) in shares
    of its width and height; ``tells`` what it is for."""

    name: str
    tells: str
    boxes: tuple[Box, ...] = ()
    lines: tuple[Line, ...] = ()


def guides(aspect: float) -> list[Guide]:
    """All that there are for a picture of an ``aspect``.

    >>> [guide.name for guide in guides(16 / 9)][:4]
    ['action safe', 'title safe', 'centre', 'thirds']
    >>> guides(16 / 9)[1].boxes
    ((0.05, 0.05, 0.9, 0.9),)
    """
    third = (1 / 3, 2 / 3)
    # A cross as high as wide.
    high, wide = 0.06, 0.06 / aspect
    return [
        Guide(
            "action safe",
            "All that matters stays inside (EBU R 95, SMPTE ST 2046-1).",
            (_middle(ACTION_SAFE),),
        ),
        Guide("title safe", "Words stay inside (EBU R 95, SMPTE ST 2046-1).", (_middle(TITLE_SAFE),)),
        Guide(
            "centre",
            "The middle of the picture.",
            lines=((0.5 - wide, 0.5, 0.5 + wide, 0.5), (0.5, 0.5 - high, 0.5, 0.5 + high)),
        ),
        Guide(
            "thirds",
            "The picture in thirds.",
            lines=(*((x, 0.0, x, 1.0) for x in third), *((0.0, y, 1.0, y) for y in third)),
        ),
        *(
            Guide(
                f"{name} within",
                "What a picture of that format, as large as it can be, has of this one.",
                (box,),
            )
            for name, box in _formats(aspect)
        ),
    ]


def _middle(across: float, down: float | None = None) -> Box:
    high = across if down is None else down
    return (round((1 - across) / 2, 6), round((1 - high) / 2, 6), across, high)


def _formats(aspect: float) -> list[tuple[str, Box]]:
    return [
        (name, _middle(min(1.0, of / aspect), min(1.0, aspect / of)))
        for name, of in FORMATS.items()
        if abs(of / aspect - 1) > 0.01
    ]
