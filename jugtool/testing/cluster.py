"""PostgreSQL for tests: a migrated cluster made once for these migrations, then copied for each run and thrown away.

Making one takes several seconds, copying it a fraction of one. What was made is kept in the data home under a
name that stands for everything it came from, so that a change makes another.
"""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import os
import shutil
import subprocess
import tempfile
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from jugtool import debian, postgres
from jugtool.places import PYTHON, ROOT, data_home
from jugtool.say import Failed

#: The migrated database that workers clone.
DATABASE = "oakenjug_tests"
PASSWORD = "only-for-tests"
#: One that no run has used for so long goes. [s]
_UNUSED_S = 24 * 3600


@dataclass(frozen=True)
class Cluster:
    """A running server that is gone after the run."""

    port: int
    password_file: Path

    def environment(self) -> dict[str, str]:
        return {
            "OAKENJUG_DB_PORT": str(self.port), "OAKENJUG_DB_PASSWORD_FILE": str(self.password_file), "OAKENJUG_DB_NAME": DATABASE,
        }  # fmt: skip


@contextlib.contextmanager
def throw_away(made: Path, *, within: Path | None = None, wait: bool = True) -> Iterator[Cluster]:
    """A copy of what :func:`made` gives, running on a port of its own; without ``wait`` it may still be starting.

    ``within``: where it is copied to, else where temporary files go.
    """
    home = Path(tempfile.mkdtemp(prefix="oakenjug-test-", dir=within))
    home.chmod(0o755)
    try:
        password = home / "password"
        password.write_text(PASSWORD, encoding="ascii")
        copied = home / "pg"
        with _held(made, fcntl.LOCK_SH) as template:
            subprocess.run(["cp", "-a", "--reflink=auto", str(template), str(copied)], check=True)
        with postgres.unsafe(copied, clean=False, wait=wait) as port:
            yield Cluster(port, password)
    finally:
        shutil.rmtree(home, ignore_errors=True)


def made() -> Path:
    """The directory of the migrated cluster for the code of now, made if it is not there."""
    kept = data_home() / "made-for-tests"
    kept.mkdir(parents=True, exist_ok=True)
    home = kept / _state()
    with _held(kept, fcntl.LOCK_EX):
        if not (home / "pg").exists():
            _forget_old(kept)
            new = Path(tempfile.mkdtemp(prefix="new-", dir=kept))
            try:
                new.chmod(0o755)
                _make(new)
                new.rename(home)
            except BaseException:
                shutil.rmtree(new, ignore_errors=True)
                raise
        os.utime(home)
    return home


def _make(home: Path) -> None:
    postgres.initdb(home / "pg", PASSWORD, sync=False)
    password = home / "password"
    password.write_text(PASSWORD, encoding="ascii")
    with postgres.unsafe(home / "pg", clean=True) as port:
        environment = {
            **os.environ, **Cluster(port, password).environment(), "PYTHONPATH": str(ROOT), "OAKENJUG_MODE": "test",
            "DJANGO_SETTINGS_MODULE": "jugserver.config.settings",
        }  # fmt: skip
        command = [str(PYTHON), "-m", "jugserver.config.tests.migrated"]
        done = subprocess.run(command, cwd=ROOT, env=environment, capture_output=True, text=True, check=False)
    if done.returncode != 0:
        raise Failed("Making a database for tests", (done.stderr + done.stdout).strip()[-2000:], "mend what it names; a migration most likely.")


def _state() -> str:
    """Everything a migrated cluster comes from."""
    found = hashlib.sha256(str(debian.postgres_bin()).encode())
    files = [ROOT / "requirements" / "app.txt", Path(__file__), ROOT / "jugtool" / "postgres.py"]
    for pattern in ("*/migrations/*.py", "*/models.py", "config/*.py", "config/tests/migrated.py"):
        files += (ROOT / "jugserver").glob(pattern)
    for file in sorted(files):
        found.update(str(file.relative_to(ROOT)).encode() + b"\0" + file.read_bytes() + b"\0")
    return found.hexdigest()[:20]


def _forget_old(kept: Path) -> None:
    for each in kept.iterdir():
        if each.is_dir() and time.time() - each.stat().st_mtime > _UNUSED_S:
            with _held(each, fcntl.LOCK_EX):
                shutil.rmtree(each, ignore_errors=True)


@contextlib.contextmanager
def _held(directory: Path, how: int) -> Iterator[Path]:
    """Hold a directory against other runs; gives the cluster in it."""
    descriptor = os.open(directory, os.O_RDONLY)
    try:
        fcntl.flock(descriptor, how)
        yield directory / "pg"
    finally:
        os.close(descriptor)
