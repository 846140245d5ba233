"""PostgreSQL on loopback, its data in a named directory."""

from __future__ import annotations

import contextlib
import ctypes
import fcntl
import os
import pwd
import shutil
import signal
import socket
import subprocess
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from jugtool import ports
from jugtool.debian import postgres_bin
from jugtool.places import Data
from jugtool.say import Failed, say

USER = "oakenjug"
DATABASE = "oakenjug"
_PR_SET_PDEATHSIG = 1


def _as_server() -> dict[str, Any]:
    """Popen arguments that run a program as the database's user: postgres when root."""
    if os.geteuid() != 0:
        return {"cwd": "/"}
    return {"user": "postgres", "group": "postgres", "extra_groups": [], "cwd": "/"}


def _bin(program: str) -> str:
    home = postgres_bin()
    if home is None:
        raise Failed("Finding PostgreSQL", "its server is not installed.", "apt-get install -y postgresql")
    return str(home / program)


def _give_to_server(path: Path) -> None:
    if os.geteuid() == 0:
        account = pwd.getpwnam("postgres")
        os.chown(path, account.pw_uid, account.pw_gid)


def initdb(cluster: Path, password: str, *, sync: bool = True) -> None:
    """Make a cluster beside its place, then rename, so that half a cluster is never taken for one."""
    new = cluster.with_name(cluster.name + ".new")
    shutil.rmtree(new, ignore_errors=True)
    new.mkdir(mode=0o700)
    _give_to_server(new)
    with tempfile.NamedTemporaryFile("w", prefix="oakenjug-", delete=False) as file:
        file.write(password)
    try:
        Path(file.name).chmod(0o600)
        _give_to_server(Path(file.name))
        command = [_bin("initdb"), "-D", str(new), "-U", USER, "-E", "UTF8", "--locale=C.UTF-8", "-A", "scram-sha-256", "-k", f"--pwfile={file.name}"]
        done = subprocess.run([*command, *([] if sync else ["--no-sync"])], capture_output=True, text=True, check=False, **_as_server())
    finally:
        Path(file.name).unlink()
    if done.returncode != 0:
        raise Failed("Making the database", done.stderr.strip()[-600:], f"check that {cluster.parent} can be written to.")
    new.rename(cluster)


@contextlib.contextmanager
def _locked(data: Data) -> Iterator[None]:
    with (data.home / "lock").open("w") as file:
        fcntl.flock(file, fcntl.LOCK_EX)
        yield


def running_port(cluster: Path) -> int | None:
    """The port of a live server on this cluster, or None."""
    try:
        lines = (cluster / "postmaster.pid").read_text().splitlines()
        pid, port = int(lines[0]), int(lines[3])
        state = Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0]
        home = Path(f"/proc/{pid}/cwd").readlink()
    except (OSError, ValueError, IndexError):
        return None
    if state == "Z" or home != cluster:
        return None
    with socket.socket() as probe:
        probe.settimeout(1)
        return port if probe.connect_ex(("127.0.0.1", port)) == 0 else None


def start(data: Data, *, port: int | None = None) -> tuple[int, bool]:
    """Have the data's server running: (port, whether this call started it). ``port`` where it must be the one it had."""
    wanted = port
    data.make()
    with _locked(data):
        if not (data.cluster / "PG_VERSION").exists():
            say(f"Making the database in {data.cluster} …")
            initdb(data.cluster, data.password.read_text())
        _require_same_major(data.cluster)
        _let_the_dead_go(data.cluster)
        _have_checksums(data.cluster)
        port = running_port(data.cluster)
        if port is not None:
            return port, False
        last = ""
        for _ in range(3):  # another program may have taken it since
            with ports.reserved() if wanted is None else contextlib.nullcontext(wanted) as port:
                options = f"-p {port} -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c log_min_messages=warning"
                log = data.cluster / "server.log"
                command = [_bin("pg_ctl"), "-D", str(data.cluster), "-w", "-t", "60", "-l", str(log), "-o", options, "start"]
                done = subprocess.run(
                    command, stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, check=False, **_as_server()
                )
            up = _comes_up(data.cluster) if done.returncode == 0 or _processes_in(data.cluster) else None
            if up is not None:
                _make_database(data, up)
                return up, True
            last = log.read_text(errors="replace")[-600:] if log.exists() else "no log was written"
        raise Failed("Starting PostgreSQL", last.strip(), f"read {data.cluster / 'server.log'}; free disk space is a common cause.")


#: A server that was started answers within this, on a machine that has much else to do.
_ANSWERS_WITHIN_S = 20.0


def _comes_up(cluster: Path) -> int | None:
    """The port of a server that was started just now, once it answers; None where it does not."""
    until = time.monotonic() + _ANSWERS_WITHIN_S
    while (port := running_port(cluster)) is None and time.monotonic() < until and _processes_in(cluster):
        time.sleep(0.2)
    return port


def _processes_in(cluster: Path) -> list[int]:
    """Processes that work in the cluster's directory: the server and its children."""
    found = []
    for entry in Path("/proc").iterdir():
        with contextlib.suppress(OSError, ValueError):
            if (entry / "cwd").readlink() == cluster:
                found.append(int(entry.name))
    return found


def _let_the_dead_go(cluster: Path, seconds: float = 10) -> None:
    """After a kill, wait until the old server is really gone, and take its lock away.

    A killed server's children live on for a moment, and the server itself may stay a
    zombie until its parent notices; PostgreSQL takes a zombie for a living server and
    refuses to start. So does a process that has the number of one that died before
    the machine was restarted. The lock goes only once no process works in the cluster;
    a server is in there before it writes its lock.
    """
    lock = cluster / "postmaster.pid"
    deadline = time.monotonic() + seconds
    while lock.exists() and running_port(cluster) is None and time.monotonic() < deadline:
        if not _processes_in(cluster):
            lock.unlink(missing_ok=True)
            return
        time.sleep(0.1)


def _require_same_major(cluster: Path) -> None:
    made_by = (cluster / "PG_VERSION").read_text().strip()
    here = subprocess.run([_bin("postgres"), "--version"], capture_output=True, text=True, check=True).stdout.split()[2].split(".")[0]
    if made_by != here:
        raise Failed(
            "Opening the database", f"it was made by PostgreSQL {made_by} and {here} is installed.",
            f"install postgresql-{made_by}, run ./jug backup FILE with it, then ./jug restore FILE with {here}.",
        )  # fmt: skip


def _have_checksums(cluster: Path) -> None:
    """Have a stopped cluster of an earlier release keep checksums of its pages, so that a disk that rots is noticed.

    Of one that was not shut down as it should be that cannot be done; it is left for the next start.
    """
    told = subprocess.run([_bin("pg_controldata"), str(cluster)], capture_output=True, text=True, check=False, **_as_server()).stdout
    state = dict(line.split(":", 1) for line in told.splitlines() if ":" in line)
    if state.get("Data page checksum version", "").strip() != "0" or state.get("Database cluster state", "").strip() != "shut down":
        return
    say("Giving the database's pages checksums …")
    done = subprocess.run([_bin("pg_checksums"), "--enable", "-D", str(cluster)], capture_output=True, text=True, check=False, **_as_server())
    if done.returncode != 0:
        raise Failed("Giving the pages checksums", done.stderr.strip()[-300:], "check the free disk, and run ./jug doctor.")


def _make_database(data: Data, port: int) -> None:
    """Make our database on a new cluster."""
    found = client(data, port, "psql", "-tAc", f"select 1 from pg_database where datname = '{DATABASE}'", database="postgres")
    if found.strip() != "1":
        client(data, port, "createdb", DATABASE, database=None)


def client(data: Data, port: int, program: str, *arguments: str, database: str | None = DATABASE) -> str:
    """Run one of PostgreSQL's own client programs against our server."""
    environment = {
        **os.environ, "PGHOST": "127.0.0.1", "PGPORT": str(port), "PGUSER": USER, "PGPASSWORD": data.password.read_text().strip(),
    }  # fmt: skip
    if database:
        environment["PGDATABASE"] = database
    done = subprocess.run([_bin(program), *arguments], env=environment, capture_output=True, text=True, check=False)
    if done.returncode != 0:
        raise Failed(f"Running {program}", done.stderr.strip()[-600:], "run ./jug doctor to see the state of the database.")
    return done.stdout


def stop(data: Data) -> bool:
    """Stop the data's server; whether there was one."""
    if running_port(data.cluster) is None:
        return False
    command = [_bin("pg_ctl"), "-D", str(data.cluster), "-w", "-t", "60", "-m", "fast", "stop"]
    done = subprocess.run(command, capture_output=True, text=True, check=False, **_as_server())
    if done.returncode != 0 and running_port(data.cluster) is not None:  # the app may have stopped it a moment before
        raise Failed("Stopping PostgreSQL", done.stderr.strip()[-300:], "look for its process with ps and stop it.")
    return True


def _die_with_parent() -> None:
    # Ignored by whatever a shell starts in the background; a server that has just begun would miss it.
    signal.signal(signal.SIGQUIT, signal.SIG_DFL)
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGQUIT)


@contextlib.contextmanager
def unsafe(cluster: Path, *, clean: bool, wait: bool = True) -> Iterator[int]:
    """A server on a cluster that no power cut may meet, on a port of its own; it ends with whoever started it.

    ``clean``: it is shut down as it should be, so that the cluster can be copied; else it is just ended.
    ``wait``: until it answers; else whoever goes there has to.
    """
    with ports.reserved() as port:
        command = [
            _bin("postgres"), "-D", str(cluster), "-p", str(port), "-c", "listen_addresses=127.0.0.1", "-c", "unix_socket_directories=",
            "-c", "fsync=off", "-c", "full_page_writes=off", "-c", "synchronous_commit=off", "-c", "log_min_messages=fatal",
            "-c", "dynamic_shared_memory_type=mmap",  # in its own directory, which goes with it
        ]  # fmt: skip
        server = subprocess.Popen(
            command, stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, preexec_fn=_die_with_parent, **_as_server()
        )
        try:
            deadline = time.monotonic() + 30
            while wait and running_port(cluster) is None:
                if server.poll() is not None or time.monotonic() > deadline:
                    raise Failed("Starting a database for tests", "it did not come up.", "run ./jug doctor.")
                time.sleep(0.02)
            yield port
        finally:
            server.send_signal(signal.SIGINT if clean else signal.SIGQUIT)
            server.wait(timeout=60)
