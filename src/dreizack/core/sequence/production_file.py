"""A production as one file: its shots with their takes, its sequences, and everything from the library that
they need."""

from __future__ import annotations

import json
import re
import tempfile
import zipfile
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import IO, Any

from pydantic import ValidationError

from ..document import Look, Shot, ShotFileError, read_shot, used_files, write_shot
from ..document.edits import EditRefused
from ..document.plain_text import CONTROL
from ..library import find
from ..sandbox import FileRefused
from .bundle import SequenceFileError
from .document import Sequence, read_sequence
from .kept_files import MOST, NAME, take_file

VERSION = 1
INDEX, FOLDER = "production.json", "library/"
MAX_INDEX = 256 * 1024 * 1024
MAX_FILES, MAX_SHOTS, MAX_SEQUENCES, MAX_TAKES, MAX_LOOKS = 5000, 2000, 500, 5000, 500
# Letters of the name of a take or a look.
MAX_NAME = 60
# Bytes of all files together.
MAX_BYTES = 40_000_000_000
BLOCK = 1 << 20


@dataclass(frozen=True)
class ProductionFile:
    """A production: its shots and sequences by the names they have for each other, ``takes`` by shot and
    name, and the saved ``looks`` that titles wear, by name. ``lost`` are files that were not there to be
    taken along."""

    name: str
    shots: dict[str, Shot]
    sequences: dict[str, Sequence]
    lost: tuple[str, ...] = ()
    takes: dict[str, dict[str, Shot]] = field(default_factory=dict)
    looks: dict[str, Look] = field(default_factory=dict)

    @property
    def states(self) -> dict[str, Shot]:
        """Shots as they are and as they were in takes."""
        kept = {f"{shot}/{name}": take for shot, all_ in self.takes.items() for name, take in all_.items()}
        return {**self.shots, **kept}

    @property
    def worn(self) -> set[str]:
        """Names of the looks that titles wear."""
        return {title.look for shot in self.states.values() for title in shot.titles.values() if title.look}


def needed_files(shots: dict[str, Shot], sequences: dict[str, Sequence]) -> list[str]:
    """Names of all files of the library that shots and sequences need, brought typefaces too."""
    names: set[str] = set()
    for shot in shots.values():
        names |= used_files(shot)
        names |= {f"{title.setting.typeface}.font" for title in shot.titles.values()}
        names |= {
            f"{one.typeface}.font" for title in shot.titles.values() for one in title.ranges if one.typeface
        }
    for sequence in sequences.values():
        names |= {sound.file for sound in sequence.sounds.values() if sound.file}
    shipped = {name for name in names if name.endswith(".font") and find(name) is None}
    return sorted(names - shipped)


def write_production(production: ProductionFile, out: IO[bytes]) -> None:
    """Write a production with all its files; what is lost is listed, and left out."""
    files = needed_files(production.states, production.sequences)
    there = {name: path for name in files if (path := find(name)) is not None}
    tree = {
        "dreizack_production": VERSION,
        "name": production.name,
        "shots": {name: json.loads(write_shot(shot)) for name, shot in production.shots.items()},
        "sequences": {name: one.model_dump(mode="json") for name, one in production.sequences.items()},
        "takes": {
            name: {take: json.loads(write_shot(shot)) for take, shot in takes.items()}
            for name, takes in production.takes.items()
        },
        "looks": {name: look.model_dump(mode="json") for name, look in production.looks.items()},
        "lost": sorted(set(files) - set(there)),
    }
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(INDEX, json.dumps(tree, ensure_ascii=False, indent=1))
        for name, path in there.items():
            # Footage and pictures are as small as they get.
            archive.write(path, f"{FOLDER}{name}", zipfile.ZIP_STORED)


def read_production(
    source: Path, folder: Path, told: Callable[[str], None] = lambda _: None
) -> ProductionFile:
    """Read a production and put its files on the shelf ``folder``, each once it was read in a sandbox; files
    are called there by their content, and documents name them so. ``told`` hears each file's name.

    SequenceFileError, or FileRefused, with a sentence for whoever brought it.
    """
    try:
        with zipfile.ZipFile(source) as archive:
            tree = _index(archive)
            names = _taken(archive, folder, told)
    except (zipfile.BadZipFile, EOFError, NotImplementedError, RuntimeError) as why:
        raise SequenceFileError("this is no archive of a production, or it is damaged") from why
    text = json.dumps(tree, ensure_ascii=False)
    changed = {old: new for old, new in names.items() if old != new}
    if changed:
        longest_first = sorted(changed, key=len, reverse=True)
        pattern = re.compile("|".join(rf'"{re.escape(old)}"' for old in longest_first))
        text = pattern.sub(lambda found: f'"{changed[found[0][1:-1]]}"', text)
    return _production(json.loads(text))


def _index(archive: zipfile.ZipFile) -> dict[str, Any]:
    try:
        info = archive.getinfo(INDEX)
    except KeyError:
        raise SequenceFileError(f"this is no archive of a production: there is no {INDEX} in it") from None
    if info.file_size > MAX_INDEX:
        raise SequenceFileError("the list of shots in this archive is larger than one may be")
    if len(archive.infolist()) > MAX_FILES:
        raise SequenceFileError(f"an archive has at most {MAX_FILES} files")
    if sum(one.file_size for one in archive.infolist()) > MAX_BYTES:
        raise SequenceFileError("the files of this archive are larger together than they may be")
    try:
        with archive.open(info) as held:
            tree: Any = json.loads(held.read(MAX_INDEX + 1))
    except (ValueError, RecursionError):
        raise SequenceFileError(f"{INDEX} in this archive is no JSON, or it is damaged") from None
    if not isinstance(tree, dict) or tree.get("dreizack_production") != VERSION:
        raise SequenceFileError("this is no archive of a production, or one of a later version")
    return tree


def _taken(archive: zipfile.ZipFile, folder: Path, told: Callable[[str], None]) -> dict[str, str]:
    """Names of the files in the archive, without endings for typefaces, and what they are called here."""
    names: dict[str, str] = {}
    for info in archive.infolist():
        name = info.filename.removeprefix(FOLDER)
        if info.filename == INDEX or info.is_dir():
            continue
        if not info.filename.startswith(FOLDER) or not NAME.fullmatch(name):
            raise SequenceFileError(f"this file is none that an archive holds: '{info.filename[:80]}'")
        told(name)
        with tempfile.NamedTemporaryFile(dir=folder, delete=False) as held, archive.open(info) as packed:
            _unpacked(packed, held, min(info.file_size, MOST), name)
        try:
            made = take_file(Path(held.name), name, folder)
        finally:
            Path(held.name).unlink(missing_ok=True)
        if name.endswith(".font"):
            names[name.removesuffix(".font")] = made.removesuffix(".font")
        else:
            names[name] = made
    return names


def _unpacked(packed: IO[bytes], out: IO[bytes], left: int, name: str) -> None:
    """Copy what is packed; what an archive says of a file's size may be wrong."""
    try:
        while block := packed.read(min(BLOCK, left + 1)):
            left -= len(block)
            if left < 0:
                raise SequenceFileError(f"'{name}' in the archive is larger than it says")
            out.write(block)
    except BaseException:
        Path(out.name).unlink(missing_ok=True)
        raise


def _production(tree: dict[str, Any]) -> ProductionFile:
    shots, sequences = tree.get("shots"), tree.get("sequences", {})
    if not isinstance(shots, dict) or not isinstance(sequences, dict):
        raise SequenceFileError("the shots of the production are missing")
    if len(shots) > MAX_SHOTS or len(sequences) > MAX_SEQUENCES:
        raise SequenceFileError(f"a production has at most {MAX_SHOTS} shots and {MAX_SEQUENCES} sequences")
    read = {name: _shot(shot, f"shot '{name[:80]}'") for name, shot in shots.items()}
    told: dict[str, Sequence] = {}
    for name, sequence in sequences.items():
        try:
            told[name] = read_sequence(sequence)
        except (EditRefused, RecursionError) as why:
            raise SequenceFileError(f"sequence '{name[:80]}': {why}") from None
    lost = tree.get("lost", [])
    told_lost = tuple(str(name)[:100] for name in lost[:MAX_FILES]) if isinstance(lost, list) else ()
    takes = _takes(tree.get("takes", {}), read)
    called = str(tree.get("name", ""))[:120].strip() or "Production"
    return ProductionFile(called, read, told, told_lost, takes, _looks(tree.get("looks", {})))


def _shot(tree: Any, what: str) -> Shot:
    try:
        return read_shot(json.dumps(tree))
    except (ShotFileError, RecursionError) as why:
        raise SequenceFileError(f"{what}: {why}") from None


def _name(name: str, what: str) -> str:
    """A name as it may be kept here."""
    found = CONTROL.sub("", name)[:MAX_NAME].strip()
    if not found:
        raise SequenceFileError(f"a {what} in this archive has no name")
    return found


def _takes(tree: Any, shots: dict[str, Shot]) -> dict[str, dict[str, Shot]]:
    """Takes by shot and name, of shots that are there."""
    if not isinstance(tree, dict) or not all(isinstance(takes, dict) for takes in tree.values()):
        raise SequenceFileError("the takes of the production are damaged")
    if sum(map(len, tree.values())) > MAX_TAKES:
        raise SequenceFileError(f"an archive has at most {MAX_TAKES} takes")
    return {
        name: {_name(take, "take"): _shot(shot, f"take '{take[:MAX_NAME]}'") for take, shot in takes.items()}
        for name, takes in tree.items()
        if name in shots
    }


def _looks(tree: Any) -> dict[str, Look]:
    if not isinstance(tree, dict) or len(tree) > MAX_LOOKS:
        raise SequenceFileError(f"an archive has at most {MAX_LOOKS} looks, by name")
    found = {}
    for name, look in tree.items():
        try:
            found[_name(name, "look")] = Look.model_validate(look)
        except (ValidationError, RecursionError):
            raise SequenceFileError(f"look '{name[:MAX_NAME]}' in this archive is damaged") from None
    return found


__all__ = ["FileRefused", "ProductionFile", "needed_files", "read_production", "write_production"]
