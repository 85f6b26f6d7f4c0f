"""The words a title shows from frame to frame."""

from __future__ import annotations

import math
from datetime import date, timedelta

import numpy as np
from numpy.typing import NDArray

from ..document import Format, Telling, Title
from .values import Values

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# Where a number stands in the words.
PLACE = "#"
SEPARATORS = {"none": "", "space": "\u202f", "comma": ",", "point": ".", "apostrophe": "\u2019"}
# Dates that calendars of today can tell.
FIRST_DAY, LAST_DAY = date(1, 1, 1), date(9999, 12, 31)


def changes_words(title: Title) -> bool:
    """Whether a title may show other words than those that are typed."""
    return title.telling.kind != "as typed"


def holds_widths(title: Title) -> bool:
    """Whether its digits are to be as wide as each other."""
    return title.telling.kind in ("count", "clock", "timecode", "date") and title.telling.widths == "held"


def told_words(title: Title, values: Values, frames: Floats, form: Format) -> tuple[list[str], Ints]:
    """The distinct words a title shows, and which of them (frames,) each of ``frames`` shows."""
    telling, count = title.telling, len(frames)

    def over(name: str) -> Floats:
        return np.broadcast_to(values.value(f"/telling/{name}"), (count,))

    if telling.kind == "letter by letter":
        shown = [_revealed(title.words, share) for share in over("progress").tolist()]
    elif telling.kind == "resolving":
        step = np.floor(frames / telling.changes + 1e-9).astype(np.int64)
        shown = _resolving(title.words, telling, over("progress"), step)
    elif telling.kind == "timecode":
        shown = [_put(title.words, timecode(math.floor(f + 0.5), form)) for f in frames.tolist()]
    elif telling.kind == "as typed":
        shown = [title.words] * count
    else:
        write = {"count": counted, "clock": clock, "date": dated}[telling.kind]
        shown = [_put(title.words, write(telling, value)) for value in over("value").tolist()]
    distinct, index = np.unique(np.array(shown, dtype=object).astype(str), return_inverse=True)
    return [str(one) for one in distinct], index.reshape(-1).astype(np.int64)


def _put(words: str, told: str) -> str:
    return words.replace(PLACE, told) if PLACE in words else told


def _revealed(words: str, share: float) -> str:
    """So many of the letters as the share says; breaks and spaces go with the letter before."""
    letters = sum(not sign.isspace() for sign in words)
    wanted = math.floor(share * letters + 1e-9)
    found = []
    for sign in words:
        if not sign.isspace():
            if not wanted:
                break
            wanted -= 1
        found.append(sign)
    return "".join(found).rstrip()


def _resolving(words: str, telling: Telling, progress: Floats, step: Ints) -> list[str]:
    """Words whose letters show random characters until they resolve, in about the order they are read."""
    letters = [i for i, sign in enumerate(words) if not sign.isspace()]
    pool = telling.pool.strip() or "?"
    if not letters:
        return [words] * len(progress)
    chance = np.random.default_rng(telling.seed)
    order = (np.arange(len(letters)) + chance.uniform(-1.5, 1.5, len(letters))) / len(letters)
    settles = (np.argsort(np.argsort(order)) + 1) / len(letters)
    # Mixed by large odd numbers, so that a frame shows the same whenever it is asked for.
    noise = (step[:, None] * 2_654_435_761 + np.arange(len(letters)) * 40_503 + telling.seed * 97_911) % 2**32
    noise = (noise ^ (noise >> 15)) * 2_246_822_519 % 2**32
    drawn = (noise ^ (noise >> 13)) % len(pool)
    settled = progress[:, None] >= settles - 1e-9
    found = []
    for done, signs in zip(settled, drawn, strict=True):
        row = list(words)
        for place, index in enumerate(letters):
            if not done[place]:
                row[index] = pool[signs[place]]
        found.append("".join(row))
    return found


def counted(telling: Telling, value: float) -> str:
    """A number as it is written.

    >>> counted(Telling(kind="count", decimals=1, grouping="comma"), -12345.25)
    '\u221212,345.3'
    """
    scale = 10**telling.decimals
    # Halves away from zero, as one counts by hand.
    units = math.floor(abs(value) * scale + 0.5 + 1e-9)
    whole, rest = divmod(units, scale)
    digits = str(whole).zfill(telling.least)
    groups = SEPARATORS[telling.grouping]
    if groups:
        head = len(digits) % 3
        digits = groups.join(
            ([digits[:head]] if head else []) + [digits[i : i + 3] for i in range(head, len(digits), 3)]
        )
    sign = "\u2212" if value < 0 and units else "+" if telling.sign == "always" and units else ""
    mark = "," if telling.mark == "comma" else "."
    return f"{sign}{digits}" + (f"{mark}{rest:0{telling.decimals}d}" if telling.decimals else "")


def clock(telling: Telling, seconds: float) -> str:
    """Seconds as a clock shows them, never more than have gone.

    >>> clock(Telling(kind="clock", clock="mm:ss.0"), 75.69)
    '01:15.6'
    """
    sign = "\u2212" if seconds < 0 else ""
    hundredths = math.floor(abs(seconds) * 100 + 1e-6)
    whole, part = divmod(hundredths, 100)
    minutes, second = divmod(whole, 60)
    hours, minute = divmod(minutes, 60)
    match telling.clock:
        case "h:mm":
            return f"{sign}{hours}:{minute:02d}"
        case "h:mm:ss":
            return f"{sign}{hours}:{minute:02d}:{second:02d}"
        case "mm:ss":
            return f"{sign}{minutes:02d}:{second:02d}"
        case "mm:ss.0":
            return f"{sign}{minutes:02d}:{second:02d}.{part // 10}"
        case _:
            return f"{sign}{minutes:02d}:{second:02d}.{part:02d}"


def dated(telling: Telling, days: float) -> str:
    """A date so many days after the beginning.

    >>> dated(Telling(kind="date", begins="2031-12-31", written="20.3.2031"), 1)
    '1.1.2032'
    """
    begins = date.fromisoformat(telling.begins)
    by = min(max(math.floor(days + 1e-9), (FIRST_DAY - begins).days), (LAST_DAY - begins).days)
    day = begins + timedelta(days=by)
    return {
        "20.3.2031": f"{day.day}.{day.month}.{day.year}",
        "20.03.2031": f"{day.day:02d}.{day.month:02d}.{day.year}",
        "03/20/2031": f"{day.month:02d}/{day.day:02d}/{day.year}",
        "20/03/2031": f"{day.day:02d}/{day.month:02d}/{day.year}",
        "2031-03-20": day.isoformat(),
    }[telling.written]


def timecode(frame: int, form: Format) -> str:
    """Non-drop timecode of a frame (SMPTE ST 12-1, section 5), counted at the rounded rate.

    >>> timecode(90, Format())
    '00:00:03:15'
    """
    rate = max(1, round(form.rate.per_second))
    seconds, frames = divmod(max(0, frame), rate)
    return f"{seconds // 3600:02d}:{seconds // 60 % 60:02d}:{seconds % 60:02d}:{frames:02d}"
