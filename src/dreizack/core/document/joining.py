"""Scripts whose letters are written joined."""

from __future__ import annotations

# Blocks of Unicode with letters that touch the next one, on the line or from a line above: Arabic and what is
# written with it, Syriac, N'Ko, Devanagari, Bengali, Gurmukhi, Mongolian, Adlam.
JOINING = (
    (0x0600, 0x06FF), (0x0700, 0x074F), (0x0750, 0x077F), (0x07C0, 0x07FF), (0x0860, 0x08FF),
    (0x0900, 0x0A7F), (0x1800, 0x18AF), (0xA8E0, 0xA8FF), (0xFB50, 0xFDFF), (0xFE70, 0xFEFF),
    (0x1E900, 0x1E95F),
)  # fmt: skip


def joins(words: str) -> bool:
    """Whether any of these words is of a script whose letters are joined.

    >>> joins("EBB"), joins("مد")
    (False, True)
    """
    return any(low <= ord(sign) <= high for sign in words if sign.isalpha() for low, high in JOINING)
