"""Make ready what a command needs, then run it: Debian packages, virtual environment, front end.

Uses the standard library alone. Every step is skipped when what it makes is there already.
"""

from __future__ import annotations

import hashlib
import importlib.util
import os
import shutil
import subprocess
import sys
import venv
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
HOME = ROOT / ".dreizack"
VENV = HOME / "venv"
PYTHON = VENV / "bin" / "python"
LOG = HOME / "install.log"

# What each command needs beyond the Python packages.
NEEDS = {
    "start": {"debian-run.txt", "web"},
    "render": {"debian-run.txt"},
    "body": set(),
    "proof": set(),
    "solve": set(),
    "dev": {"debian-run.txt", "web"},
    "publish": {"modules"},
    "bench": {"debian-run.txt", "debian-test.txt", "test packages", "web"},
    "test": {"debian-run.txt", "debian-test.txt", "test packages", "web"},
}


class Missing(RuntimeError):
    """Something cannot be made ready; the text says what to do."""


def main(arguments: list[str]) -> int:
    command = next((a for a in arguments if not a.startswith("-")), "")
    needs = NEEDS.get(command, set())
    try:
        HOME.mkdir(exist_ok=True)
        for listed in sorted(n for n in needs if n.endswith(".txt")):
            debian((ROOT / "install" / listed).read_text().split())
        environment("requirements.lock")
        if "test packages" in needs:
            environment("requirements-test.lock")
        if "modules" in needs:
            node_modules()
        if "web" in needs:
            front_end()
    except Missing as why:
        print(f"dreizack: {why}", file=sys.stderr)
        return 1
    except KeyboardInterrupt:
        print("Stopped.", file=sys.stderr)
        return 130
    except OSError as why:
        remedy = "free some space" if why.errno == 28 else "check the rights of this folder"
        print(
            f"dreizack: {why.filename or HOME}: {why.strerror}; {remedy} and run the command again.",
            file=sys.stderr,
        )
        return 1
    os.environ["PYTHONPATH"] = str(ROOT / "src")
    os.execv(PYTHON, [str(PYTHON), "-m", "dreizack", *arguments])


def debian(wanted: list[str]) -> None:
    """Install the Debian packages that are not there."""
    missing = [name for name in wanted if not installed(name)]
    if not missing:
        return
    words = " ".join(missing)
    if not shutil.which("apt-get"):
        raise Missing(
            f"these packages are needed and this is no Debian: {words}; install their like by hand."
        )
    if os.geteuid() != 0:
        raise Missing(
            f"Debian packages are missing and only root may install them; run: sudo apt-get install {words}"
        )
    say(f"Installing Debian packages: {words}")
    # A cluster of our own is made later; Debian's default one is not wanted.
    wanted_off = Path("/etc/postgresql-common/createcluster.d")
    if "postgresql" in missing:
        wanted_off.mkdir(parents=True, exist_ok=True)
        (wanted_off / "dreizack.conf").write_text("create_main_cluster = false\n")
    quiet = {"DEBIAN_FRONTEND": "noninteractive"}
    run(["apt-get", "update", "-qq"], "the package lists could not be fetched; check the network", quiet)
    run(
        ["apt-get", "install", "-y", "-qq", "--no-install-recommends", *missing],
        f"apt-get could not install {words}; see {LOG}",
        quiet,
    )


def installed(package: str) -> bool:
    asked = (
        subprocess.run(
            ["dpkg-query", "-W", "-f=${Status}", package], capture_output=True, text=True, check=False
        )
        if shutil.which("dpkg-query")
        else None
    )
    return asked is not None and asked.stdout.strip() == "install ok installed"


def environment(lock: str) -> None:
    """A virtual environment with the locked packages."""
    file = ROOT / "install" / lock
    if fresh(lock, file.read_bytes()) and PYTHON.exists():
        return
    if not PYTHON.exists():
        say("Making a virtual environment")
        if importlib.util.find_spec("ensurepip") is None:
            # Debian keeps this part of Python in a package of its own.
            debian(["python3.11-venv"])
        try:
            venv.create(VENV, with_pip=True, clear=True)
        except (subprocess.CalledProcessError, ImportError):
            shutil.rmtree(VENV, ignore_errors=True)
            raise Missing(
                "Python's venv module is not complete; run: apt-get install python3.11-venv"
            ) from None
    say(f"Installing Python packages ({lock}); the first time takes a minute or two")
    run(
        [str(PYTHON), "-m", "pip", "install", "--quiet", "--disable-pip-version-check", "-r", str(file)],
        f"the Python packages could not be installed; check the network and the disk, see {LOG}",
    )
    stamp(lock, file.read_bytes())


def front_end() -> None:
    """The built interface."""
    web = ROOT / "web"
    patterns = ("*.json", "*.ts", "index.html", "src/**/*", "public/**/*")
    sources = sorted(p for pattern in patterns for p in web.glob(pattern) if p.is_file())
    content = b"".join(str(p.relative_to(web)).encode() + p.read_bytes() for p in sources)
    if fresh("web", content) and (web / "dist" / "index.html").exists():
        return
    node_modules()
    say("Building the interface")
    run(["npm", "run", "build"], f"the interface could not be built; see {LOG}", at=web)
    stamp("web", content)


def node_modules() -> None:
    """What the interface is built from."""
    web = ROOT / "web"
    modules = (web / "package-lock.json").read_bytes()
    if fresh("modules", modules) and (web / "node_modules").is_dir():
        return
    if not shutil.which("npm"):
        raise Missing(
            "Node 20 with npm is needed to build the interface; install it and run the command again."
        )
    major = (
        subprocess.run(["node", "--version"], capture_output=True, text=True, check=False)
        .stdout.strip("v\n")
        .split(".")[0]
    )
    if not major.isdigit() or int(major) < 20:
        raise Missing(
            f"Node 20 or newer is needed to build the interface; this is version {major or 'unknown'}."
        )
    say("Installing node modules")
    run(
        ["npm", "ci", "--no-audit", "--no-fund"],
        f"the node modules could not be installed; check the network, see {LOG}",
        at=web,
    )
    stamp("modules", modules)


def fresh(name: str, content: bytes) -> bool:
    file = HOME / "stamps" / name
    return file.exists() and file.read_text() == hashlib.sha256(content).hexdigest()


def stamp(name: str, content: bytes) -> None:
    (HOME / "stamps").mkdir(exist_ok=True)
    (HOME / "stamps" / name).write_text(hashlib.sha256(content).hexdigest())


def run(command: list[str], otherwise: str, more: dict[str, str] | None = None, at: Path = ROOT) -> None:
    """Run a step with its output in the log and a sign of life on the terminal."""
    with LOG.open("ab") as log:
        log.write(f"\n$ {' '.join(command)}\n".encode())
        log.flush()
        process = subprocess.Popen(
            command, cwd=at, env=os.environ | (more or {}), stdin=subprocess.DEVNULL, stdout=log, stderr=log
        )
        dots = 0
        while True:
            try:
                process.wait(timeout=2)
                break
            except subprocess.TimeoutExpired:
                dots += 1
                if sys.stderr.isatty():
                    print("." * (dots % 30 + 1), end="\r", file=sys.stderr, flush=True)
                elif dots % 10 == 0:
                    print(f"  … {dots * 2} s", file=sys.stderr, flush=True)
    if process.returncode:
        raise Missing(otherwise + ("" if otherwise.endswith(".") else "."))


def say(text: str) -> None:
    print(f"{text} …", file=sys.stderr, flush=True)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
