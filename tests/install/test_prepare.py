"""Making ready: what is there is left alone, what cannot be had is said in one sentence."""

from __future__ import annotations

import importlib.util
import subprocess
from pathlib import Path
from types import ModuleType

import pytest

from tests.conftest import ROOT


@pytest.fixture
def prepare(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> ModuleType:
    spec = importlib.util.spec_from_file_location("prepare", ROOT / "install/prepare.py")
    assert spec and spec.loader
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    monkeypatch.setattr(module, "HOME", tmp_path)
    monkeypatch.setattr(module, "LOG", tmp_path / "install.log")
    return module


def test_stamps_remember_content(prepare: ModuleType) -> None:
    assert not prepare.fresh("thing", b"one")
    prepare.stamp("thing", b"one")
    assert prepare.fresh("thing", b"one") and not prepare.fresh("thing", b"two")


def test_installed_packages_are_left_alone(prepare: ModuleType, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(prepare, "installed", lambda name: True)
    monkeypatch.setattr(prepare, "run", lambda *_: pytest.fail("nothing was to be installed"))
    prepare.debian(["postgresql"])


def test_missing_packages_are_named_with_what_to_do(
    prepare: ModuleType, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(prepare, "installed", lambda name: name == "libegl1")
    monkeypatch.setattr(prepare.os, "geteuid", lambda: 1000)
    with pytest.raises(prepare.Missing, match="sudo apt-get install postgresql"):
        prepare.debian(["postgresql", "libegl1"])
    monkeypatch.setattr(prepare.shutil, "which", lambda name: None)
    with pytest.raises(prepare.Missing, match="no Debian: postgresql"):
        prepare.debian(["postgresql"])


def test_a_failing_step_says_so_and_keeps_its_output(prepare: ModuleType) -> None:
    with pytest.raises(prepare.Missing, match="the registry does not answer"):
        prepare.run(["sh", "-c", "echo the reason; exit 3"], "the registry does not answer")
    assert "the reason" in prepare.LOG.read_text()


def test_node_is_asked_for(prepare: ModuleType, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(prepare.shutil, "which", lambda name: None)
    with pytest.raises(prepare.Missing, match="Node 20"):
        prepare.node_modules()
    monkeypatch.setattr(prepare.shutil, "which", lambda name: name)
    monkeypatch.setattr(
        prepare.subprocess, "run", lambda *a, **k: subprocess.CompletedProcess(a, 0, "v16.1.0\n", "")
    )
    with pytest.raises(prepare.Missing, match="version 16"):
        prepare.node_modules()


def test_every_locked_package_is_pinned_and_listed_once() -> None:
    for name in ("requirements.lock", "requirements-test.lock"):
        lines = (ROOT / "install" / name).read_text().split()
        assert all("==" in line for line in lines)
        names = [line.split("==")[0].lower() for line in lines]
        assert len(names) == len(set(names))
    locked = {
        line.split("==")[0].lower().replace("_", "-")
        for line in (ROOT / "install/requirements.lock").read_text().split()
    }
    wanted = [
        line
        for line in (ROOT / "install/requirements.txt").read_text().splitlines()
        if line and not line.startswith("#")
    ]
    assert {w.split("[")[0].lower().replace("_", "-") for w in wanted} <= locked
