"""Versions of a sequence: other texts, other formats, with words and without; from a table."""

from __future__ import annotations

import csv
import io
import re

from ..document import Shot, apply_edit
from ..document.retyping import retyped
from ..sandbox import sandboxed
from .bundle import Bundle, SequenceFileError
from .document import MAX_VERSIONS, Sequence, Version

# Columns that are no texts.
NAME, SIZE, WORDS = "version", "size", "words"
SEPARATORS = ",;\t"
MAX_TABLE = 4 * 1024 * 1024
# How workbooks begin.
ZIP = b"PK\x03\x04"


class TableError(SequenceFileError):
    """A table that cannot be read; the text says where and why."""


def columns(bundle: Bundle) -> dict[str, tuple[str, str]]:
    """The titles of a bundle by the heading of their column: shot and title by what they are called; where
    two are called alike a number tells them apart."""
    found: dict[str, tuple[str, str]] = {}
    for name in bundle.sequence.shots:
        shot = bundle.shots.get(name)
        for thing, title in (shot.titles if shot is not None else {}).items():
            assert shot is not None
            heading = plain = f"{shot.name} / {title.name if title.name != 'Title' else thing}"
            count = 1
            while heading in found:
                count += 1
                heading = f"{plain} {count}"
            found[heading] = (name, thing)
    return found


def write_table(bundle: Bundle) -> str:
    """A table (CSV, RFC 4180) of the versions of a bundle; where there are none yet, with its texts as they
    are in the first row, to be filled in."""
    sequence, headings = bundle.sequence, columns(bundle)
    versions = sequence.versions or [
        Version(name="original", width=sequence.width, height=sequence.height, texts={})
    ]
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow([NAME, SIZE, WORDS, *headings])
    for version in versions:
        texts = [
            version.texts.get(f"{shot}/{thing}", bundle.shots[shot].titles[thing].words)
            for shot, thing in headings.values()
        ]
        size = f"{version.width}x{version.height}"
        writer.writerow(
            [_safe(text) for text in (version.name, size, "yes" if version.words else "no", *texts)]
        )
    return out.getvalue()


def _safe(text: str) -> str:
    """What a spreadsheet would take for a formula is kept a text."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@") else text


def read_table(data: bytes, bundle: Bundle) -> list[Version]:
    """The versions of a table: a heading ``version``, ``size`` (1920x1080), ``words`` (yes or no) and one for
    each title whose text differs. TableError names row and column."""
    if len(data) > MAX_TABLE:
        raise TableError(f"the table is larger than {MAX_TABLE // 1024 // 1024} MB")
    if data.startswith(ZIP):
        data = sandboxed(
            "dreizack.core.readers.workbook:first_sheet", data, what="table", seconds=20, megabytes=900
        )
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as why:
        row = data[: why.start].count(b"\n") + 1
        raise TableError(f"row {row} is not text in UTF-8; save the table as CSV in UTF-8") from None
    if "\0" in text:
        raise TableError("this is no table of text; save it as CSV in UTF-8")
    first = text.split("\n", 1)[0]
    separator = max(SEPARATORS, key=first.count)
    try:
        rows = [row for row in csv.reader(io.StringIO(text), delimiter=separator, strict=True) if any(row)]
    except csv.Error as why:
        raise TableError(f"the table is damaged: {why}") from None
    if not rows:
        raise TableError("the table is empty")
    headings = [heading.strip() for heading in rows[0]]
    if NAME not in headings:
        raise TableError(f"there is no column '{NAME}'; the first row holds the headings")
    twice = next((h for h in headings if h and headings.count(h) > 1), None)
    if twice is not None:
        raise TableError(f"two columns are called '{twice[:60]}'")
    known = columns(bundle)
    odd = [h for h in headings if h and h not in (NAME, SIZE, WORDS) and h not in known]
    if odd:
        raise TableError(
            f"there is no title for the column '{odd[0][:80]}'; the titles are {', '.join(known)[:400]}"
        )
    if len(rows) - 1 > MAX_VERSIONS:
        raise TableError(f"a table has at most {MAX_VERSIONS} versions, this one has {len(rows) - 1}")
    versions = [
        _version(number, row, headings, bundle.sequence, known) for number, row in enumerate(rows[1:], 2)
    ]
    # What was framed by hand is not in the table, and stays.
    framed = {version.name: version.crops for version in bundle.sequence.versions}
    names: set[str] = set()
    for number, version in enumerate(versions, 2):
        version.crops = framed.get(version.name, {})
        if version.name in names:
            raise TableError(f"row {number}: another version is called '{version.name[:60]}'")
        names.add(version.name)
    return versions


def _version(
    number: int,
    row: list[str],
    headings: list[str],
    sequence: Sequence,
    known: dict[str, tuple[str, str]],
) -> Version:
    if len(row) > len(headings):
        raise TableError(f"row {number} has {len(row)} columns, the headings are {len(headings)}")
    cells = dict(zip(headings, row, strict=False))
    size = cells.get(SIZE, "").strip()
    found = re.fullmatch(r"(\d{2,4})\s*[x×]\s*(\d{2,4})", size) if size else None
    if size and found is None:
        raise TableError(f"row {number}, column '{SIZE}': '{size[:40]}' is no size; write it like 1080x1920")
    words = cells.get(WORDS, "").strip().lower()
    if words not in ("", "yes", "no"):
        raise TableError(f"row {number}, column '{WORDS}': write yes or no, not '{words[:40]}'")
    texts = {}
    for heading, (shot, thing) in known.items():
        text = cells.get(heading, "")
        if text.strip():
            texts[f"{shot}/{thing}"] = text.removeprefix("'") if text[1:2] in ("=", "+", "-", "@") else text
    name = cells.get(NAME, "").strip()
    if not name:
        raise TableError(f"row {number}, column '{NAME}' is empty")
    try:
        return Version(
            name=name,
            width=int(found[1]) if found else sequence.width,
            height=int(found[2]) if found else sequence.height,
            words=words != "no",
            texts=texts,
        )
    except ValueError as why:
        says = why.errors(include_url=False)[0] if hasattr(why, "errors") else {"msg": str(why), "loc": ()}
        raise TableError(f"row {number}, {'/'.join(map(str, says['loc']))}: {says['msg']}") from None


def versioned(bundle: Bundle, version: Version) -> Bundle:
    """A bundle with the texts of a version, or without words."""
    shots = {name: _worded(name, shot, version) for name, shot in bundle.shots.items()}
    sequence = bundle.sequence
    if not version.words:
        off = [lane.model_copy(update={"on": False}) for lane in sequence.lanes]
        sequence = sequence.model_copy(update={"lanes": off})
    if version.crops:
        sequence = sequence.model_copy(update={"crops": {**sequence.crops, **version.crops}})
    return Bundle(sequence, shots)


def _worded(name: str, shot: Shot, version: Version) -> Shot:
    wanted = {thing: version.texts.get(f"{name}/{thing}") for thing in shot.titles}
    if version.words and not any(wanted.values()):
        return shot
    made = shot.model_copy(deep=True)
    if version.words:
        for thing, text in wanted.items():
            if text and text != made.titles[thing].words:
                words = {"op": "replace", "path": f"/things/{thing}/words", "value": text}
                made = apply_edit(made, [words, *retyped(made, thing, text)]).shot
            if text:
                # What the words were to become over time was said of the other ones.
                made.changes.pop(f"/things/{thing}/words", None)
        return made
    for title in made.titles.values():
        for what in ("camera", "reflections", "casts"):
            setattr(title.visibility, what, False)
    return made
