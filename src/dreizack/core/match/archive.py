"""Named arrays as one file: nothing that runs when it is read; the same arrays make the same bytes."""

from __future__ import annotations

import io
import json
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

MOST_BYTES = 800_000_000


class Unsound(ValueError):
    """Why a file is none of ours."""


def archive_bytes(facts: dict[str, Any], arrays: dict[str, NDArray[Any]]) -> bytes:
    """Arrays and ``facts``, plain values, as a file (NumPy's archive of arrays)."""
    told = np.frombuffer(json.dumps(facts, sort_keys=True).encode(), np.uint8)
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, array in {"facts": told, **arrays}.items():
            one = io.BytesIO()
            np.lib.format.write_array(one, np.ascontiguousarray(array), allow_pickle=False)
            archive.writestr(zipfile.ZipInfo(f"{name}.npy", (1980, 1, 1, 0, 0, 0)), one.getvalue())
    return held.getvalue()


def read_archive(path: Path, names: tuple[str, ...]) -> tuple[dict[str, Any], dict[str, NDArray[Any]]]:
    """Facts and arrays of a file; Unsound where it is larger than one may be. Whatever else is wrong with
    it is raised as it comes."""
    with zipfile.ZipFile(path) as archive:
        if sum(one.file_size for one in archive.infolist()) > MOST_BYTES:
            raise Unsound("this file is larger than one may be")
    with np.load(path, allow_pickle=False) as data:
        return json.loads(data["facts"].tobytes()), {name: data[name] for name in names}
