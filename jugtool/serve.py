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
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from pathlib import Path

from jugtool import debian, install, ports, postgres
from jugtool.certificate import Tls
from jugtool.daily import Daily
from jugtool.places import PYTHON, ROOT, SHOP, WEB, Data, app_environment, server_environment
from jugtool.say import Failed, report, say

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
    """(process, address) of an app on this data that answers, or None."""
    found = _begun(data)
    return found if found is not None and _answers(found[1], tries=2, data=data) else None


def _begun(data: Data) -> tuple[int, str] | None:
    """The same of one that was begun, whether it answers yet or not."""
    try:
        found = json.loads(data.serving.read_text())
        pid, address = int(found["pid"]), str(found["address"])
        command = Path(f"/proc/{pid}/cmdline").read_bytes()
    except (OSError, ValueError, KeyError):
        return None
    return (pid, address) if b"jugserver.serve" in command else None


def _answers(address: str, *, tries: int, data: Data | None = None) -> bool:
    trusts = Tls(data).context() if data is not None and address.startswith("https:") else None
    for attempt in range(tries):
        with contextlib.suppress(urllib.error.URLError, OSError, ValueError):
            with urllib.request.urlopen(f"{address}/api/health", timeout=2, context=trusts) as answer:
                return bool(json.load(answer)["ok"])
        if attempt + 1 < tries:
            time.sleep(0.1)
    return False


@dataclass(frozen=True)
class Behind:
    """A reverse proxy that serves the app over HTTPS: under which name, from which addresses it asks, and at which it finds it."""

    name: str
    proxies: str
    listen: str

    def environment(self) -> dict[str, str]:
        """What the app must know of it: whom it answers as, that cookies never go without HTTPS, and whose word it takes."""
        # The command itself asks at the address, to see whether the app is well.
        return {"OAKENJUG_ALLOWED_HOSTS": f"{self.name},127.0.0.1", "OAKENJUG_HTTPS": "true", "OAKENJUG_TRUSTED_PROXIES": self.proxies}


def install_all() -> int:
    """Install what is missing, and start nothing: for a picture of a machine, or before an upgrade."""
    debian.ensure()
    install.everything()
    say("Everything is installed.")
    return 0


def serve(
    data: Data, *, mode: str, port: int | None, watch: bool = False, lan: str | None = None, behind: Behind | None = None,
    written: Callable[[Data, int, Path], None] | None = None,
) -> int:  # fmt: skip
    """Install what is missing, start the database, migrate, serve until Ctrl-C.

    ``lan`` is an address to serve tablets at, over HTTPS; ``behind`` a proxy that does; else the app is on loopback only.
    ``written`` writes a backup of the database at a port to a file: once a day, if it is given.
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
    listening: socket.socket | None = None

    try:
        listening = _listening(data.name, port, lan or (behind.listen if behind else "127.0.0.1"))
        web_port = listening.getsockname()[1]
        address = f"https://{lan}:{web_port}" if lan else f"http://127.0.0.1:{web_port}"
        environment = app_environment(data, mode, db_port, postgres.USER)
        command = [str(PYTHON), "-m", "jugserver.serve", "--socket", str(listening.fileno()), *(["--reload"] if watch else [])]
        if lan:
            tls = Tls(data)
            tls.ensure(lan)
            environment |= {"OAKENJUG_ALLOWED_HOSTS": lan, "OAKENJUG_HTTPS": "true"}
            command += ["--certificate", str(tls.certificate), "--key", str(tls.key)]
        environment |= behind.environment() if behind is not None else {}
        app = _app(command, environment, listening)
        children.append(app)
        data.serving.write_text(json.dumps({"pid": app.pid, "address": address}))
        if watch:
            vite = [*install.npm("exec", "--", "vite", "build", "--watch")]
            children.append(subprocess.Popen(vite, cwd=WEB, env=install.node_environment(), start_new_session=True))
        if not _comes_up(app, address, data):
            return 0  # it was stopped before it was ready
        say(f"Oaken Jug{' (demo)' if mode == 'demo' else ''} is at {address}   ready in {time.monotonic() - began:.1f} s, Ctrl-C stops it")
        if lan:
            say(f"Tablets must trust this kitchen once: put {Tls(data).authority} on each and install it.\nIts SHA-256 is {Tls(data).fingerprint()}")
        apps, database = _Patience(), _Patience()
        daily = Daily(data, partial(written, data, db_port)) if written is not None else None
        while True:
            time.sleep(_LOOKS_S)
            if daily is not None:
                daily.look()
            code = app.poll()
            if code in _STOPPED:
                return 0  # it was stopped
            if postgres.running_port(data.cluster) is None and database.may_try():
                say("The database has ended; starting it again …")
                _tried(lambda: postgres.start(data, port=db_port))
                started_database = True
            if code is not None and apps.may_try():
                say(f"The app ended with code {code}; starting it again …")
                children.remove(app)
                app = _app(command, environment, listening)
                children.append(app)
                data.serving.write_text(json.dumps({"pid": app.pid, "address": address}))
    except KeyboardInterrupt:
        say("\nStopping …")
        return 0
    finally:
        for child in children:
            _end(child)
        if listening is not None:
            listening.close()
        data.serving.unlink(missing_ok=True)
        if started_database:
            postgres.stop(data)


def _comes_up(app: subprocess.Popen[bytes], address: str, data: Data) -> bool:
    """Wait until the app answers; whether it does, and was not stopped before. Raises Failed where it ended by itself or takes too long."""
    deadline = time.monotonic() + _COMES_UP_WITHIN_S
    while not _answers(address, tries=1, data=data):
        if app.poll() in _STOPPED:
            return False
        if app.poll() is not None:
            raise Failed(
                "Starting the app", f"it ended with code {app.returncode}; its own words are above.", "mend what it names, or run ./jug doctor."
            )
        if time.monotonic() > deadline:
            raise Failed("Starting the app", f"it did not answer within {_COMES_UP_WITHIN_S:.0f} seconds.", "run ./jug doctor.")
        time.sleep(0.05)
    return True


#: A slow and busy machine starts the app in less; the first start of the demo loads nine weeks of a shop, half a minute on a quick one. [s]
_COMES_UP_WITHIN_S = 240.0
#: How an app ends that was told to.
_STOPPED = (0, -signal.SIGTERM, -signal.SIGINT)
#: So often is looked whether what was started still runs. [s]
_LOOKS_S = 1.0


class _Patience:
    """Tries at once, then after a second, two, four, up to ten; at once again after what held for a while."""

    _LONGEST_S, _HELD_S = 10.0, 60.0

    def __init__(self) -> None:
        self._wait_s, self._last = 0.0, -self._HELD_S

    def may_try(self) -> bool:
        """Whether it is time to try again; if so, that is counted as a try."""
        now = time.monotonic()
        if now - self._last < self._wait_s:
            return False
        self._wait_s = 0.0 if now - self._last > self._HELD_S else min(max(1.0, 2 * self._wait_s), self._LONGEST_S)
        self._last = now
        return True


def _tried(start: Callable[[], object]) -> None:
    """What could not be started is said, and tried again later."""
    try:
        start()
    except Failed as error:
        report(error)


def _app(command: list[str], environment: dict[str, str], listening: socket.socket) -> subprocess.Popen[bytes]:
    """The app. The socket stays open here too: while it is started again, who asks waits instead of being refused."""
    return subprocess.Popen(command, cwd=ROOT, env=environment, start_new_session=True, pass_fds=(listening.fileno(),))


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
    found = _begun(data)
    if found is not None:
        with contextlib.suppress(ProcessLookupError):
            os.kill(found[0], signal.SIGTERM)
        for _ in range(100):
            if not Path(f"/proc/{found[0]}").exists():
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


def till(port: int) -> int:
    """A simulated till, until Ctrl-C."""
    install.python_packages("app")
    environment = {**os.environ, "PYTHONPATH": str(ROOT)}
    sys.stdout.flush()
    return subprocess.run([str(PYTHON), "-m", "jugserver.demo.till", "--port", str(port)], env=environment, check=False).returncode


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
