"""``dreizack body``: words to a body in a file, without the server."""

from __future__ import annotations

import sys
import tempfile
from argparse import Namespace
from pathlib import Path

from pydantic import ValidationError

from ..core.document import Axis, Body, Edge, Finish, Setting, Title
from ..core.exchange import BODY_FORMATS, write_body
from ..core.files import whole_file
from ..core.form import PROFILES
from ..core.lettering import bring_file, known, typeface, typefaces
from ..core.scene import Form

# A pixel of --tolerance is that of a picture this many lines high, filled by the capitals.
LINES = 2160


def body(wish: Namespace) -> int:
    """Exit status 0 when the file is complete, 1 with a sentence on standard error otherwise."""
    target = Path(wish.out)
    kind = target.suffix.lower().lstrip(".")
    if kind not in BODY_FORMATS:
        return _refuse(
            f"a body is written as {', '.join('.' + k for k in BODY_FORMATS)}; '{target.name}' is none of "
            "them"
        )
    if wish.profile not in PROFILES:
        return _refuse(f"'{wish.profile}' is no profile; choose {', '.join(PROFILES)}")
    for name in ("size", "depth", "reach", "rise", "counter_reach"):
        length = getattr(wish, name)
        if length is not None and (not 0 <= length <= 50 or (name in ("size", "depth") and length == 0)):
            return _refuse(f"--{name.replace('_', '-')} is a length in metres, above 0 and at most 50")
    if not 0.01 <= wish.tolerance <= 100:
        return _refuse("--tolerance is in pixels, from 0.01 to 100")
    if not 0 < len(wish.text) <= 600:
        return _refuse("the text has 1 to 600 characters")
    counter = 1.0 if wish.counter_reach is None or wish.reach <= 0 else wish.counter_reach / wish.reach
    with tempfile.TemporaryDirectory() as shelf:
        try:
            font = _font(wish.font, Path(shelf))
            edge = Edge(profile=wish.profile, reach=wish.reach, rise=wish.rise, counter=counter)
            title = Title(
                words=wish.text,
                setting=Setting(typeface=font, size=wish.size, tracking=0, axes=_axes(wish.axis, font)),
                body=Body(depth=wish.depth, front=edge, back=edge),
            )
            form = Form(title, wish.tolerance * wish.size / LINES)
            data = write_body(form, [Finish()], kind)
            whole_file(target, lambda path: _write(path, data))
        except ValidationError as faults:
            fault = faults.errors(include_url=False)[0]
            return _refuse(f"{'.'.join(str(step) for step in fault['loc'])}: {fault['msg']}")
        except ValueError as why:
            return _refuse(str(why))
        except OSError as why:
            return _refuse(f"{target}: {why.strerror or why}")
    print(f"{target}: {len(data)} bytes")
    _tell(form.pieces.missing, form.pieces.borrowed, wish.font)
    return 0


def _tell(missing: str, borrowed: str, font: str) -> None:
    """What is not as one may think, on standard error: the body is there all the same."""
    if missing:
        print(f"dreizack: no typeface has {' '.join(missing)}; empty boxes stand there.", file=sys.stderr)
    if borrowed:
        print(
            f"dreizack: {font} does not have {' '.join(borrowed)}; another typeface was taken for them.",
            file=sys.stderr,
        )


def _axes(wished: list[str], font: str) -> dict[str, Axis]:
    """Places on axes of a typeface; ValueError where it has no such axis or place."""
    ranges = {axis.tag: (axis.low, axis.high) for axis in typeface(font).axes}
    found = {}
    for one in wished:
        tag, _, number = one.partition("=")
        if tag not in ranges:
            there = f"it has {', '.join(ranges)}" if ranges else "it is not variable"
            raise ValueError(f"'{font}' has no axis '{tag}'; {there}")
        low, high = ranges[tag]
        try:
            value = float(number)
        except ValueError:
            value = float("nan")
        if not low <= value <= high:
            raise ValueError(f"--axis {tag} goes from {low:g} to {high:g}, as in {tag}={(low + high) / 2:g}")
        found[tag] = Axis(value=value)
    return found


def _font(wish: str, shelf: Path) -> str:
    """Name of a shipped typeface, or of the first font of a file; ValueError where it is neither."""
    if known(wish):
        return wish
    path = Path(wish)
    if not path.is_file():
        raise ValueError(
            f"'{wish}' is neither a font file nor one of {', '.join(face.name for face in typefaces())}"
        )
    return bring_file(path.read_bytes(), shelf)[0].name


def _write(path: Path, data: bytes) -> None:
    path.write_bytes(data)


def _refuse(sentence: str) -> int:
    print(f"dreizack: {sentence}.", file=sys.stderr)
    return 1
