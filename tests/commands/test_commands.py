"""The one command, as people call it."""

from __future__ import annotations

import contextlib
import io
import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import cv2
import pytest

from bench.memory import children
from dreizack.commands.main import main
from dreizack.core.document import Format, Shot, Title, write_shot
from dreizack.core.media import probe
from dreizack.core.sequence import Bundle, Sequence, SequencePiece, Version, write_bundle
from dreizack.demo import demo_shots
from dreizack.store.cluster import free_port
from tests.conftest import ROOT

ENVIRONMENT = os.environ | {"PYTHONPATH": str(ROOT / "src")}


def run(*words: str, timeout: float = 120) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "dreizack", *words],
        capture_output=True,
        text=True,
        env=ENVIRONMENT,
        timeout=timeout,
        check=False,
    )


def called(*words: str) -> subprocess.CompletedProcess[str]:
    """The same without a process of its own."""
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        status = main(list(words))
    return subprocess.CompletedProcess(words, status, out.getvalue(), err.getvalue())


def test_the_examples_are_the_demos_shots() -> None:
    for name, shot in demo_shots().items():
        assert (ROOT / "examples" / f"{name}.json").read_text(encoding="utf-8") == write_shot(shot), (
            "run python -m dreizack.demo examples"
        )


def test_a_shot_file_becomes_a_movie_without_a_server(tmp_path: Path) -> None:
    done = run(
        "render",
        str(ROOT / "examples/main-title.json"),
        "--out",
        str(tmp_path / "clip.mp4"),
        "--frames",
        "60-63",
        "--size",
        "160x90",
        "--quality",
        "draft",
    )
    assert done.returncode == 0, done.stderr
    assert "4 frames" in done.stdout and "4/4" in done.stderr
    found = probe(tmp_path / "clip.mp4")
    assert (found["frames"], found["width"], found["height"], found["rate"]) == (4, 160, 90, 25)


def test_a_shot_file_becomes_frames(tmp_path: Path) -> None:
    done = run(
        "render",
        str(ROOT / "examples/part-one.json"),
        "--out",
        str(tmp_path / "f.%05d.png"),
        "--frames",
        "70",
        "--size",
        "160x90",
        "--quality",
        "draft",
    )
    assert done.returncode == 0, done.stderr
    assert cv2.imread(str(tmp_path / "f.00070.png")).shape == (90, 160, 3)


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"shot": "missing.json"}, "No such file"),
        ({"out": "clip.avi"}, ".mp4"),
        ({"out": "frame.png"}, "frame.%05d.png"),
        ({"out": "nowhere/clip.mp4"}, "does not exist"),
        ({"frames": "0-999"}, "0-119"),
        ({"size": "161x90"}, "even"),
        ({"size": "99999x90"}, "not a size"),
        ({"quality": "best"}, "draft, good, final"),
        ({"shot": "broken.json"}, "line 1"),
    ],
)
def test_render_refuses_with_one_sentence_and_a_status(
    tmp_path: Path, change: dict[str, str], says: str
) -> None:
    (tmp_path / "broken.json").write_text("{nonsense")
    told = {
        "shot": str(ROOT / "examples/main-title.json"),
        "out": "clip.mp4",
        "frames": "0-1",
        "size": "160x90",
        "quality": "draft",
    } | change
    if not Path(told["shot"]).is_absolute():
        told["shot"] = str(tmp_path / told["shot"])
    done = called(
        "render",
        told["shot"],
        "--out",
        str(tmp_path / told["out"]),
        "--frames",
        told["frames"],
        "--size",
        told["size"],
        "--quality",
        told["quality"],
    )
    assert done.returncode == 1
    assert says in done.stderr and done.stderr.startswith("dreizack: ") and done.stderr.count("\n") == 1
    assert sorted(p.name for p in tmp_path.iterdir()) == ["broken.json"]


def test_words_become_a_body_in_a_file(tmp_path: Path) -> None:
    done = called(
        "body",
        "FLOOD & EBB",
        "--out",
        str(tmp_path / "words.stl"),
        "--font",
        "zilla-slab",
        "--profile",
        "ogee",
        "--depth",
        "0.1",
    )
    assert done.returncode == 0, done.stderr
    import trimesh

    mesh = trimesh.load_mesh(tmp_path / "words.stl")
    assert mesh.is_watertight and mesh.extents[2] == pytest.approx(0.1, abs=1e-5)


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (("EBB", "--out", "x.fbx"), ".glb"),
        (("EBB", "--out", "x.glb", "--font", "none-such"), "neither a font file"),
        (("", "--out", "x.glb"), "characters"),
        (("EBB", "--out", "x.glb", "--profile", "wavy"), "no profile"),
        (("EBB", "--out", "x.glb", "--depth", "nan"), "--depth"),
        (("EBB", "--out", "x.glb", "--axis", "wght=700"), "it is not variable"),
        (("EBB", "--out", "x.glb", "--font", "recursive", "--axis", "abcd=1"), "it has MONO"),
        (("EBB", "--out", "x.glb", "--font", "recursive", "--axis", "wght=9e9"), "from 300 to 1000"),
        (("EBB", "--out", "x.glb", "--font", "recursive", "--axis", "wght=bold"), "from 300 to 1000"),
        (("EBB", "--out", "nowhere/x.glb"), "No such file"),
        ((" ", "--out", "x.svg"), "no letters"),
    ],
)
def test_body_refuses_with_one_sentence_and_a_status(words: tuple[str, ...], says: str) -> None:
    done = called("body", *words)
    assert done.returncode == 1 and says in done.stderr and done.stderr.count("\n") == 1


def test_body_goes_along_axes_of_a_variable_typeface(tmp_path: Path) -> None:
    sizes = []
    for weight in (300, 1000):
        out = tmp_path / f"{weight}.svg"
        done = called("body", "I", "--out", str(out), "--font", "recursive", "--axis", f"wght={weight}")
        assert done.returncode == 0, done.stderr
        sizes.append(out.read_text())
    assert sizes[0] != sizes[1]


def test_body_says_which_letters_are_boxes_and_which_are_borrowed(tmp_path: Path) -> None:
    done = called("body", "日\u0301e\u0301 ΣΦ", "--out", str(tmp_path / "words.svg"))
    assert done.returncode == 0
    boxes, borrowed = done.stderr.splitlines()
    assert "no typeface has 日;" in boxes and "anton does not have Φ;" in borrowed
    plain = called("body", "EBB", "--out", str(tmp_path / "words.svg"))
    assert plain.returncode == 0 and plain.stderr == ""


def test_the_published_schema_accepts_the_examples_and_refuses_others() -> None:
    import jsonschema

    schema = json.loads((ROOT / "docs/shot.schema.json").read_text())
    shots = [json.loads(file.read_text()) for file in (ROOT / "examples").glob("*.json")]
    trees = [tree for tree in shots if "dreizack_sequence" not in tree]
    for tree in trees:
        jsonschema.validate(tree, schema)
    tree = min(trees, key=lambda one: len(json.dumps(one)))
    for broken in (
        tree | {"dreizack_shot": 2},
        tree | {"extra": 1},
        {k: v for k, v in tree.items() if k != "dreizack_shot"},
    ):
        with pytest.raises(jsonschema.ValidationError):
            jsonschema.validate(broken, schema)


def start(data: Path, *words: str) -> subprocess.Popen[str]:
    return subprocess.Popen(
        [sys.executable, "-m", "dreizack", "start", *words],
        env=ENVIRONMENT | {"DREIZACK_DATA": str(data)},
        text=True,
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        start_new_session=True,
    )


def test_start_serves_seeds_once_survives_a_killed_server_and_stops_cleanly(tmp_path: Path) -> None:
    port = free_port()
    names: list[list[str]] = []
    for _ in range(2):
        process = start(tmp_path, "--port", str(port))
        try:
            assert process.stdout is not None
            assert f"http://127.0.0.1:{port}" in process.stdout.readline()
            names.append([p["name"] for p in productions(port)])
            if len(names) == 2:
                second = start(tmp_path, "--port", str(free_port()))
                assert second.wait(timeout=30) == 1
                assert second.stderr is not None and "already running" in second.stderr.read()
                os.kill(server_of(process.pid), signal.SIGKILL)
                until_answers(port)
        finally:
            process.send_signal(signal.SIGINT)
            assert process.wait(timeout=30) == 0
        with socket.socket() as probe_socket:
            assert probe_socket.connect_ex(("127.0.0.1", port)) != 0
    assert names == [["SLACK WATER"], ["SLACK WATER"]]


def test_ctrl_c_while_the_demo_is_added_ends_in_one_word(tmp_path: Path) -> None:
    process = start(tmp_path, "--port", str(free_port()))
    end = time.monotonic() + 120
    while "commands.seed" not in " ".join(children(process.pid).values()):
        assert process.poll() is None and time.monotonic() < end, "it was never added"
        time.sleep(0.02)
    # As a terminal does: to all that belong to it.
    os.killpg(process.pid, signal.SIGINT)
    out, said = process.communicate(timeout=60)
    assert process.returncode == 0 and "Traceback" not in said and out.strip().endswith("Stopped.")


def productions(port: int) -> list[dict[str, str]]:
    with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/productions", timeout=10) as answer:
        found: list[dict[str, str]] = json.load(answer)
        return found


def until_answers(port: int) -> None:
    for _ in range(300):
        try:
            productions(port)
            return
        except OSError:
            time.sleep(0.1)
    raise AssertionError("the server did not come back")


def server_of(supervisor: int) -> int:
    for folder in Path("/proc").glob("[0-9]*"):
        try:
            parent = int((folder / "stat").read_text().rsplit(")", 1)[1].split()[1])
            words = (folder / "cmdline").read_bytes()
        except OSError:
            continue
        if parent == supervisor and b"dreizack.api" in words:
            return int(folder.name)
    raise AssertionError("no server is running")


@pytest.mark.parametrize(
    ("words", "says"),
    [(("--port", "0"), "no port"), (("--port", "99999"), "no port"), (("--port", "taken"), "--port")],
)
def test_start_says_what_is_in_the_way(tmp_path: Path, words: tuple[str, ...], says: str) -> None:
    with socket.socket() as holder:
        holder.bind(("127.0.0.1", 0))
        holder.listen()
        told = [str(holder.getsockname()[1]) if word == "taken" else word for word in words]
        process = start(tmp_path, *told)
        assert process.wait(timeout=30) == 1
        assert process.stderr is not None
        text = process.stderr.read()
        assert says in text and text.count("\n") == 1


def test_start_refuses_a_folder_it_cannot_write(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("")
    process = start(tmp_path / "file", "--port", str(free_port()))
    assert process.wait(timeout=30) == 1
    assert process.stderr is not None and "DREIZACK_DATA" in process.stderr.read()


def test_solve_refuses_what_is_no_footage_in_words(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    from dreizack.commands.solve import solve

    (tmp_path / "notes.mov").write_text("no film at all")
    assert solve(str(tmp_path / "notes.mov"), str(tmp_path / "shot.json"), None, "EBB") == 1
    assert "video" in capsys.readouterr().err
    assert solve(str(tmp_path / "nothing.mov"), str(tmp_path / "shot.json"), None, "EBB") == 1
    assert "No such file" in capsys.readouterr().err
    assert not (tmp_path / "shot.json").exists()


def small_sequence(tmp_path: Path) -> Path:
    """A sequence of one small shot in two versions."""
    shot = Shot(name="Slack", format=Format(width=48, height=32, frames=3))
    shot.things["title"] = Title(words="EBB")
    sequence = Sequence(
        name="Opening",
        width=48,
        height=32,
        line=[SequencePiece(shot="slack", frames=2)],
        versions=[
            Version(name="english", width=48, height=32),
            Version(name="deutsch", width=32, height=48, texts={"slack/title": "EBBE"}),
        ],
    )
    path = tmp_path / "opening.json"
    path.write_text(write_bundle(Bundle(sequence, {"slack": shot})))
    return path


def test_every_format_of_every_version_is_one_command(tmp_path: Path) -> None:
    source, out = small_sequence(tmp_path), tmp_path / "out"
    done = run(
        "render", str(source), "--out", f"{out}/", "--versions", "all", "--format", "mp4,png",
        "--size", "96x64", "--quality", "draft", "--progress", "json",
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    names = sorted(path.name for path in out.iterdir())
    assert names == [
        "opening-deutsch-64x96-mp4.mp4",
        "opening-deutsch-64x96-png.00000.png",
        "opening-deutsch-64x96-png.00001.png",
        "opening-english-96x64-mp4.mp4",
        "opening-english-96x64-png.00000.png",
        "opening-english-96x64-png.00001.png",
    ]
    told = [json.loads(line) for line in done.stderr.splitlines() if line.startswith("{")]
    # Of four files of two frames each version is traced once.
    kept = [one["kept"] for one in told]
    assert len(kept) == 8 and not kept[0] and not kept[4] and all(kept[2:4]) and all(kept[6:8])


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (("--versions", "polski"), "there is no version 'polski'; there are english, deutsch"),
        (("--versions", "all", "--names", "{name}"), "several files would be called"),
        (("--names", "{title}"), "no place for 'title'"),
        (("--format", "mp4,betamax"), "betamax"),
        (("--format", "exr-passes"), "single shot"),
    ],
)
def test_a_folder_of_files_is_refused_before_anything_is_rendered(
    tmp_path: Path, words: tuple[str, ...], says: str
) -> None:
    out = tmp_path / "out"
    done = called("render", str(small_sequence(tmp_path)), "--out", f"{out}/", *words)
    assert done.returncode == 1 and says in done.stderr and done.stderr.count("\n") == 1
    assert not out.exists()


def test_versions_need_a_folder(tmp_path: Path) -> None:
    done = called(
        "render", str(small_sequence(tmp_path)), "--out", str(tmp_path / "a.mp4"), "--versions", "all"
    )
    assert done.returncode == 1 and "let --out be a folder" in done.stderr


def test_proof_looks_at_pictures_and_writes_them_down(tmp_path: Path) -> None:
    shot = Shot(name="Dark", format=Format(width=96, height=54, frames=2))
    shot.things["title"] = Title(words="EBB")
    shot.backdrop.kind, shot.surroundings.strength = "colour", -16.0
    shot.backdrop.colour.r = shot.backdrop.colour.g = shot.backdrop.colour.b = 0.0
    path, page = tmp_path / "dark.json", tmp_path / "proof.html"
    path.write_text(write_shot(shot))
    done = run("proof", str(path), "--json", "--pictures", "--report", str(page))
    assert done.returncode in (0, 2), done.stderr
    kinds = {json.loads(line)["kind"] for line in done.stdout.splitlines()}
    assert "contrast" in kinds and "data:image/jpeg;base64," in page.read_text()
    refused = called("proof", str(path), "--frames", "7-9")
    assert refused.returncode == 1 and "no range of its 2 frames" in refused.stderr
