"""Files are there whole or not at all, and a full disk is said to be full."""

from __future__ import annotations

import errno
import threading
from pathlib import Path

import pytest

from dreizack.core.files import DiskFull, full, remove_partial, whole, whole_file, write_whole
from dreizack.core.library import adopt, keep


def test_a_file_is_whole_and_leaves_nothing_beside_it(tmp_path: Path) -> None:
    write_whole(tmp_path / "new" / "a.jpg", b"tide")
    write_whole(tmp_path / "new" / "a.jpg", b"ebb")
    assert [p.name for p in (tmp_path / "new").iterdir()] == ["a.jpg"] and (
        tmp_path / "new" / "a.jpg"
    ).read_bytes() == b"ebb"


def test_what_fails_in_the_middle_leaves_the_old_file(tmp_path: Path) -> None:
    target = tmp_path / "a.exr"
    write_whole(target, b"old")

    def half(path: Path) -> None:
        assert path.suffix == ".exr" and path.parent == tmp_path
        path.write_bytes(b"hal")
        raise RuntimeError("cut short")

    with pytest.raises(RuntimeError):
        whole_file(target, half)
    assert target.read_bytes() == b"old" and len(list(tmp_path.iterdir())) == 1


@pytest.mark.parametrize("number", [errno.ENOSPC, errno.EDQUOT])
def test_no_room_is_said_and_leaves_no_empty_file(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, number: int
) -> None:
    def no_room(path: Path, data: bytes) -> None:
        path.open("wb").close()
        raise OSError(number, "No space left on device")

    monkeypatch.setattr(whole, "_write", no_room)
    with pytest.raises(DiskFull, match="disk is full"):
        write_whole(tmp_path / "poster.jpg", b"x")
    assert list(tmp_path.iterdir()) == []


def test_libraries_that_say_something_else_are_understood(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def library(path: Path) -> None:
        raise RuntimeError("could not write block 7")

    with pytest.raises(RuntimeError):
        whole_file(tmp_path / "a.exr", library)
    monkeypatch.setattr(full, "LEAST", 1 << 62)
    with pytest.raises(DiskFull):
        whole_file(tmp_path / "a.exr", library)
    with pytest.raises(PermissionError):
        whole_file(
            tmp_path / "a.exr", lambda path: (_ for _ in ()).throw(PermissionError(errno.EACCES, "no"))
        )


def test_two_at_once_do_not_meet(tmp_path: Path) -> None:
    data = b"the same file" * 100_000
    faults: list[BaseException] = []

    def bring() -> None:
        try:
            assert keep(tmp_path, data, "png", "picture").startswith("picture-")
        except BaseException as why:
            faults.append(why)

    threads = [threading.Thread(target=bring) for _ in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert faults == [] and [p.read_bytes() == data for p in tmp_path.iterdir()] == [True]


def test_a_file_gets_the_same_name_however_it_is_put_on_a_shelf(tmp_path: Path) -> None:
    (tmp_path / "made").write_bytes(b"buoy" * 999_999)
    assert adopt(tmp_path, tmp_path / "made", "mesh", "mesh") == keep(
        tmp_path, b"buoy" * 999_999, "mesh", "mesh"
    )
    assert len(list(tmp_path.iterdir())) == 1


def test_parts_of_killed_writers_are_cleared_away_once_they_are_old(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    part, kept = whole.partial_path(tmp_path / "a.jpg"), tmp_path / "a.part.jpg"
    part.write_bytes(b"x")
    kept.write_bytes(b"x")
    assert remove_partial(tmp_path) == 0 and part.exists()
    monkeypatch.setattr(whole, "ABANDONED", -1.0)
    assert remove_partial(tmp_path) == 1 and not part.exists() and kept.exists()
