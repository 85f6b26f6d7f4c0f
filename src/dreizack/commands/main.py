"""Choose a command; import only what it needs."""

from __future__ import annotations

import argparse
import sys
from typing import Any


def parser() -> argparse.ArgumentParser:
    top = argparse.ArgumentParser(prog="dreizack", description="Extruded 3D titles for video.")
    commands = top.add_subparsers(dest="command", required=True)
    _add_start(commands)
    _add_render(commands)
    _add_proof(commands)
    _add_body(commands)
    _add_solve(commands)
    bench = commands.add_parser("bench", help="measure, and print one line per figure")
    bench.add_argument("name", nargs="*", help="which measurements (default: all)")
    commands.add_parser("status", help="what runs, what waits, what failed lately, disk and caches")
    _add_worker(commands)
    _add_dev(commands)
    _add_publish(commands)
    _add_test(commands)
    return top


def _add_start(commands: Any) -> None:
    start = commands.add_parser("start", help="start the application and print its address")
    start.add_argument("--port", type=int, default=7340, help="port on 127.0.0.1 (default 7340)")
    start.add_argument(
        "--serve",
        default="",
        metavar="HOST[,HOST]",
        help="let other machines in under these names; the address then holds a token",
    )
    start.add_argument("--no-demo", action="store_true", help="do not add the demo production")


def _add_render(commands: Any) -> None:
    render = commands.add_parser(
        "render",
        help="render a shot or a sequence to a movie or to frames, without the server; "
        "exit status 0: complete, 1: refused or failed, 130: stopped",
    )
    render.add_argument("shot", help="shot file or sequence file (JSON)")
    render.add_argument(
        "--out",
        required=True,
        help="FILE.mp4, .mov, .webm, .gif; name.%%05d.png, .tif, .exr for frames; "
        "FILE.glb, .usdc, .usda: a 3D scene; FOLDER/: a file for every format and version, called by --names",
    )
    render.add_argument(
        "--format",
        default="",
        help="where the suffix does not say enough, like hevc or prores-4444; for a folder several, "
        "with commas between",
    )
    render.add_argument(
        "--versions",
        default="",
        help="of a sequence, into a folder: names with commas between, or all",
    )
    render.add_argument(
        "--names",
        default="{name}-{version}-{size}-{format}",
        help="how files in a folder are called (default %(default)s); also {production} {quality} {frames} "
        "{date} {time}",
    )
    render.add_argument("--frames", help="range A-B, both included (default: all)")
    render.add_argument(
        "--size",
        help="WxH in pixels (default: the file's own); versions keep their shapes, the longer side is that",
    )
    render.add_argument("--quality", default="good", help="draft, good or final (default good)")
    render.add_argument(
        "--progress",
        choices=("bar", "json", "none"),
        default="bar",
        help="how progress is told (default bar)",
    )


def _add_proof(commands: Any) -> None:
    proof = commands.add_parser(
        "proof",
        help="check a shot or a sequence before it is ordered, without the server; "
        "exit status 0: nothing wrong, 1: the file was refused, 2: faults were found",
    )
    proof.add_argument("shot", help="shot file or sequence file (JSON)")
    proof.add_argument("--json", action="store_true", help="tell findings as JSON, one a line")
    proof.add_argument(
        "--pictures",
        action="store_true",
        help="look at pictures, sound and footage too: contrast, flashes, steps in gradients, "
        "clipping, dropped frames",
    )
    proof.add_argument("--frames", help="range A-B, both included (default: all)")
    proof.add_argument("--versions", help="of a sequence: names with commas between (default: all)")
    proof.add_argument("--report", help="FILE.html or FILE.pdf to write them to, with the places")


def _add_body(commands: Any) -> None:
    body = commands.add_parser(
        "body", help="write words as a body (GLB, OBJ, STL) or their outlines (SVG), without the server"
    )
    body.add_argument("text", help="the words")
    body.add_argument("--out", required=True, help="FILE.glb, .obj, .stl or .svg")
    body.add_argument(
        "--font", default="anton", help="a shipped typeface by name, or a font FILE (default anton)"
    )
    body.add_argument(
        "--axis",
        action="append",
        default=[],
        metavar="TAG=VALUE",
        help="place on an axis of a variable typeface, like wght=700; may be given several times",
    )
    body.add_argument("--size", type=float, default=0.5, help="cap height in metres (default 0.5)")
    body.add_argument("--depth", type=float, default=0.18, help="metres (default 0.18)")
    body.add_argument("--profile", default="roundover", help="profile of both edges (default roundover)")
    body.add_argument("--reach", type=float, default=0.018, help="metres (default 0.018)")
    body.add_argument("--rise", type=float, default=0.018, help="metres (default 0.018)")
    body.add_argument(
        "--counter-reach", type=float, help="metres of reach around counters (default: as --reach)"
    )
    body.add_argument(
        "--tolerance",
        type=float,
        default=0.5,
        help="pixels that curves may stray, capitals being 2160 pixels high (default 0.5)",
    )


def _add_solve(commands: Any) -> None:
    solve = commands.add_parser(
        "solve", help="find out how the camera of footage moved, and write a shot file, without the server"
    )
    solve.add_argument("clip", help="footage (MP4, MOV and more)")
    solve.add_argument("--out", required=True, help="FILE.json; plate and solve go into library/ beside it")
    solve.add_argument("--focal-length", type=float, help="millimetres on a sensor 36 mm wide, if known")
    solve.add_argument("--words", default="TITLE", help="words that stand there (default TITLE)")


def _threads(told: str) -> int:
    count = int(told) if told.isdecimal() else 0
    if not 1 <= count <= 512:
        raise argparse.ArgumentTypeError(f"'{told}' is no number of threads; from 1 to 512 are")
    return count


def _add_worker(commands: Any) -> None:
    worker = commands.add_parser(
        "worker", help="help another machine with its deliveries; frames are fetched from it and brought back"
    )
    worker.add_argument(
        "--join",
        required=True,
        metavar="ADDRESS",
        help="what ./dreizack start --serve printed there, with its token",
    )
    worker.add_argument("--token", default="", help="the token, where the address does not hold it")
    worker.add_argument("--name", default="", help="what this machine is called (default: its host name)")
    worker.add_argument(
        "--threads",
        type=_threads,
        default=0,
        metavar="N",
        help="threads to trace with, where others need cores too (default: one for each core)",
    )


def _add_dev(commands: Any) -> None:
    dev = commands.add_parser("dev", help="start with reload, for people who change the application")
    dev.add_argument(
        "--port",
        type=int,
        default=7340,
        help="port of the server; the interface is at the next one (default 7340)",
    )


def _add_publish(commands: Any) -> None:
    publish = commands.add_parser(
        "publish", help="write the API description, the shot schema and the browser's types"
    )
    publish.add_argument("--check", action="store_true", help="only tell whether they have drifted")


def _add_test(commands: Any) -> None:
    test = commands.add_parser("test", help="install what tests need and run all of them")
    test.add_argument(
        "--long", action="store_true", help="run the long series instead: kills, full disk, soak, fuzzing"
    )


def main(arguments: list[str]) -> int:
    chosen = parser().parse_args(arguments)
    try:
        if chosen.command == "start":
            from .start import start

            return start(chosen.port, demo=not chosen.no_demo, serve=chosen.serve)
        if chosen.command == "render":
            from .render import render

            return render(chosen)
        if chosen.command == "proof":
            from .proof import proof

            return proof(chosen)
        if chosen.command == "body":
            from .body import body

            return body(chosen)
        if chosen.command == "solve":
            from .solve import solve

            return solve(chosen.clip, chosen.out, chosen.focal_length, chosen.words)
        if chosen.command == "bench":
            from .bench import bench

            return bench(chosen.name)
        if chosen.command == "publish":
            from .publish import publish

            return publish(chosen.check)
        if chosen.command == "status":
            from .status import status

            return status()
        if chosen.command == "worker":
            from .worker import worker

            return worker(chosen.join, chosen.token, chosen.name, chosen.threads)
        if chosen.command == "dev":
            from .dev import dev

            return dev(chosen.port)
        from .check import check

        return check(chosen.long)
    except KeyboardInterrupt:
        print("Stopped.", file=sys.stderr)
        return 130
