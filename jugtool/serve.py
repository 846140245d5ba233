"""Start, demo, dev and stop."""

from __future__ import annotations

import contextlib
import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

from jugtool import debian, install, ports, postgres
from jugtool.certificate import Tls
from jugtool.places import PYTHON, ROOT, SHOP, WEB, Data, server_environment
from jugtool.say import Failed, say

FIRST_PORT = {"demo": 8640, "shop": 8650}
#: Connections that wait until the app takes them.
_BACKLOG = 2048


def _listening(name: str, wanted: int | None, host: str = "127.0.0.1") -> socket.socket:
    """A socket that listens on the wanted port, or on the first free one from this data's own start.

    It is handed to the app as it is: a port that was only found free could be another's a moment later.
    """
    candidates = [wanted] if wanted else range(FIRST_PORT.get(name, 8660), FIRST_PORT.get(name, 8660) + 40)
    for port in candidates:
        with contextlib.suppress(OSError):
            found = ports.bound(host, port)
            try:
                found.listen(_BACKLOG)
            except OSError:
                found.close()
                continue
            return found
    raise Failed(
        "Finding a port", f"port {wanted} is taken." if wanted else "all usual ports are taken.", "give another with --port N, or stop what holds it."
    )


def serving(data: Data) -> tuple[int, str] | None:
    """(process, address) of a live app on this data, or None."""
    try:
        found = json.loads(data.serving.read_text())
        pid, address = int(found["pid"]), str(found["address"])
        command = Path(f"/proc/{pid}/cmdline").read_bytes()
    except (OSError, ValueError, KeyError):
        return None
    return (pid, address) if b"jugserver.serve" in command and _answers(address, tries=2, data=data) else None


def _answers(address: str, *, tries: int, data: Data | None = None) -> bool:
    trusts = Tls(data).context() if data is not None and address.startswith("https:") else None
    for attempt in range(tries):
        with contextlib.suppress(urllib.error.URLError, OSError, ValueError):
            with urllib.request.urlopen(f"{address}/api/health", timeout=2, context=trusts) as answer:
                return bool(json.load(answer)["ok"])
        if attempt + 1 < tries:
            time.sleep(0.1)
    return False


def serve(data: Data, *, mode: str, port: int | None, watch: bool = False, lan: str | None = None) -> int:
    """Install what is missing, start the database, migrate, serve until Ctrl-C.

    ``lan`` is an address to serve tablets at, over HTTPS; else the app is on loopback only.
    """
    began = time.monotonic()
    debian.ensure()
    install.everything()
    already = serving(data)
    if already is not None:
        say(f"Oaken Jug is already running at {already[1]}")
        return 0
    db_port, started_database = postgres.start(data)
    children: list[subprocess.Popen[bytes]] = []

    try:
        listening = _listening(data.name, port, lan or "127.0.0.1")
        web_port = listening.getsockname()[1]
        address = f"https://{lan}:{web_port}" if lan else f"http://127.0.0.1:{web_port}"
        environment = server_environment(data, mode, db_port)
        command = [str(PYTHON), "-m", "jugserver.serve", "--socket", str(listening.fileno()), *(["--reload"] if watch else [])]
        if lan:
            tls = Tls(data)
            tls.ensure(lan)
            environment |= {"OAKENJUG_ALLOWED_HOSTS": lan, "OAKENJUG_HTTPS": "true"}
            command += ["--certificate", str(tls.certificate), "--key", str(tls.key)]
        app = subprocess.Popen(command, cwd=ROOT, env=environment, start_new_session=True, pass_fds=(listening.fileno(),))
        children.append(app)
        listening.close()  # the app's alone from here: when it ends, nobody listens
        if watch:
            vite = [*install.npm("exec", "--", "vite", "build", "--watch")]
            children.append(subprocess.Popen(vite, cwd=WEB, env=install.node_environment(), start_new_session=True))
        deadline = time.monotonic() + 90
        while not _answers(address, tries=1, data=data):
            if app.poll() is not None:
                raise Failed(
                    "Starting the app", f"it ended with code {app.returncode}; its own words are above.", "mend what it names, or run ./jug doctor."
                )
            if time.monotonic() > deadline:
                raise Failed("Starting the app", "it did not answer within 90 seconds.", "run ./jug doctor.")
            time.sleep(0.05)
        data.serving.write_text(json.dumps({"pid": app.pid, "address": address}))
        say(f"Oaken Jug{' (demo)' if mode == 'demo' else ''} is at {address}   ready in {time.monotonic() - began:.1f} s, Ctrl-C stops it")
        if lan:
            say(f"Tablets must trust this kitchen once: put {Tls(data).authority} on each and install it.\nIts SHA-256 is {Tls(data).fingerprint()}")
        code = app.wait()
        if code not in (0, -signal.SIGTERM, -signal.SIGINT):
            raise Failed("Serving", f"the app ended with code {code}.", "its own words are above; start it again.")
        return 0
    except KeyboardInterrupt:
        say("\nStopping …")
        return 0
    finally:
        for child in children:
            _end(child)
        data.serving.unlink(missing_ok=True)
        if started_database:
            postgres.stop(data)


def _end(child: subprocess.Popen[bytes]) -> None:
    if child.poll() is not None:
        return
    with contextlib.suppress(ProcessLookupError):
        os.killpg(child.pid, signal.SIGTERM)
    try:
        child.wait(timeout=10)
    except subprocess.TimeoutExpired:
        os.killpg(child.pid, signal.SIGKILL)
        child.wait()


def stop(data: Data) -> bool:
    """Stop the app and the database of this data; whether anything ran."""
    found = serving(data)
    if found is not None:
        with contextlib.suppress(ProcessLookupError):
            os.kill(found[0], signal.SIGTERM)
        for _ in range(100):
            if serving(data) is None:
                break
            time.sleep(0.1)
    return postgres.stop(data) or found is not None


def manage(data: Data, mode: str, *arguments: str, quiet: bool = True, database: str | None = None) -> str:
    """Run one of Django's commands against this data's database, which must run, or against one beside it."""
    port = postgres.running_port(data.cluster)
    if port is None:
        raise Failed("Reaching the database", "it is not running.", "start it with ./jug start.")
    done = subprocess.run(
        [str(PYTHON), "manage.py", *arguments], cwd=ROOT, capture_output=quiet, text=True, check=False,
        env=server_environment(data, mode, port) | ({"OAKENJUG_DB_NAME": database} if database else {}),
    )  # fmt: skip
    if done.returncode != 0:
        said = ((done.stderr or "") + (done.stdout or "")).strip()[-800:]
        raise Failed(f"manage.py {arguments[0]}", said.removeprefix("CommandError: "), "run ./jug doctor.")
    return done.stdout or ""


def core(arguments: list[str]) -> int:
    """The engine from a shell."""
    install.python_packages("app")
    environment = {**os.environ, "PYTHONPATH": str(ROOT)}
    sys.stdout.flush()
    return subprocess.run([str(PYTHON), "-m", "jugcore", *arguments], env=environment, check=False).returncode


#: What may be done about a person instead of a new password.
OF_A_PERSON = {
    "pin": "set the PIN by which a shared tablet is passed on to them",
    "keep-password": "change only what is said besides",
    "deactivate": "let them sign in no more, and end their sessions",
    "reactivate": "let them sign in again",
    "sessions": "list where they are signed in",
    "end-sessions": "sign them out everywhere",
}


def person(username: str, said: dict[str, str], what: list[str]) -> int:
    """Add a person to the shop's data, or give one a new password, which is asked for; or ``what`` of the above. Nothing else changes."""
    debian.ensure()
    install.python_packages("app")
    port, started = postgres.start(SHOP)
    try:
        environment = server_environment(SHOP, "shop", port)
        told = [part for name, value in said.items() for part in (f"--{name}", value)]
        for arguments in (
            ["migrate", "--no-input", "--verbosity", "0"],
            ["person", username, *told, *(f"--{flag}" for flag in what)],
        ):
            done = subprocess.run([str(PYTHON), "manage.py", *arguments], cwd=ROOT, env=environment, check=False)
            if done.returncode != 0:
                return done.returncode
        return 0
    finally:
        if started:
            postgres.stop(SHOP)
