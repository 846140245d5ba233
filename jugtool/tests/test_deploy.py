"""What docs/deploy.md hands out, tried as far as a machine without a network can: units, proxy, container file."""

from __future__ import annotations

import configparser
import http.client
import json
import os
import re
import shlex
import shutil
import signal
import socket
import ssl
import subprocess
import tempfile
import threading
import time
import unittest
from pathlib import Path
from unittest import mock

from jugtool import debian
from jugtool.__main__ import _behind, _parser
from jugtool.places import ROOT
from jugtool.say import Failed
from jugtool.tests.started import Started

DEPLOY = ROOT / "deploy"


def unit(name: str) -> configparser.ConfigParser:
    """A unit, the last of several values of a name."""
    found = configparser.ConfigParser(strict=False, interpolation=None)
    found.optionxform = str  # type: ignore[assignment,method-assign]  # names keep their case
    found.read(DEPLOY / name)
    return found


class Units(unittest.TestCase):
    def test_each_runs_a_command_that_there_is(self) -> None:
        for name in ("oakenjug.service", "oakenjug-verify.service"):
            with self.subTest(name):
                program, *arguments = shlex.split(unit(name)["Service"]["ExecStart"])
                self.assertEqual(program, "/opt/oakenjug/jug")
                chosen = _parser().parse_args(arguments)
                if chosen.command == "start":
                    self.assertIsNotNone(_behind(chosen))
        self.assertEqual(unit("oakenjug.service")["Service"]["KillSignal"], "SIGINT", "as Ctrl-C: the app ends before its database")

    def test_systemd_understands_them(self) -> None:
        if shutil.which("systemd-analyze") is None:
            self.skipTest("this machine has no systemd")
        with tempfile.TemporaryDirectory() as scratch:
            for file in DEPLOY.glob("oakenjug*"):
                text = (
                    file.read_text()
                    .replace("/opt/oakenjug", str(ROOT))
                    .replace("User=oakenjug", "User=daemon")
                    .replace("Group=oakenjug", "Group=daemon")
                )
                (Path(scratch) / file.name).write_text(text)
            units = sorted(str(path) for path in Path(scratch).iterdir())
            environment = {**os.environ, "SYSTEMD_UNIT_PATH": f"{scratch}:/lib/systemd/system"}
            done = subprocess.run(["systemd-analyze", "verify", "--man=no", *units], capture_output=True, text=True, check=False, env=environment)
            ours = [line for line in done.stderr.splitlines() if "oakenjug" in line]
            self.assertEqual((done.returncode, ours), (0, []), done.stderr)


class Container(unittest.TestCase):
    def test_it_installs_what_the_command_would_ask_for_on_a_bare_machine(self) -> None:
        text = (DEPLOY / "Containerfile").read_text()
        with mock.patch.object(debian, "_has_venv", return_value=False), mock.patch.object(debian, "postgres_bin", return_value=None), mock.patch(
            "pathlib.Path.glob", return_value=[]), mock.patch("pathlib.Path.exists", return_value=False), mock.patch("shutil.which", return_value=None):  # fmt: skip
            wanted = debian.missing(browser=False)
        installed = re.search(r"--no-install-recommends \\\n\s+(.+?) \\", text)
        assert installed is not None
        self.assertEqual(set(installed[1].split()), set(wanted))

    def test_its_command_is_one(self) -> None:
        text = (DEPLOY / "Containerfile").read_text()
        command = json.loads(re.search(r"^CMD (\[.+\])$", text, re.M)[1])[-1]  # type: ignore[index]
        words = shlex.split(command.replace("$OAKENJUG_NAME", "jug.example").replace("$OAKENJUG_PROXY", "10.0.0.2"))
        self.assertEqual(words[:2], ["exec", "./jug"])
        behind = _behind(_parser().parse_args(words[2:]))
        assert behind is not None
        self.assertEqual((behind.name, behind.proxies, behind.listen), ("jug.example", "10.0.0.2", "0.0.0.0"))
        self.assertIn("STOPSIGNAL SIGINT", text)
        _parser().parse_args(["install"])

    def test_a_proxy_without_a_name_is_refused_and_one_beside_a_kitchens_own_https(self) -> None:
        for words in (["start", "--proxy", "10.0.0.2"], ["start", "--listen", "0.0.0.0"], ["start", "--lan", "--behind", "jug.example"]):
            with self.subTest(words), self.assertRaises(Failed):
                _behind(_parser().parse_args(words))


class Proxied(Started):
    """The app behind the reverse proxy whose configuration ships, over HTTPS, under a name."""

    def free_port(self) -> int:
        with socket.socket() as held:
            held.bind(("127.0.0.1", 0))
            port: int = held.getsockname()[1]
            return port

    def proxy(self, app: int) -> int:
        """nginx by deploy/nginx.conf with ports and certificate of this test; the port of its HTTPS."""
        scratch = tempfile.TemporaryDirectory(prefix="oakenjug-proxy-")
        self.addCleanup(scratch.cleanup)
        home, tls, plain = Path(scratch.name), self.free_port(), self.free_port()
        subprocess.run(
            ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", "/CN=jug.example", "-addext",
             "subjectAltName=DNS:jug.example", "-keyout", str(home / "privkey.pem"), "-out", str(home / "fullchain.pem")],
            check=True, capture_output=True,
        )  # fmt: skip
        text = (DEPLOY / "nginx.conf").read_text()
        for before, after in (
            ("listen 443", f"listen 127.0.0.1:{tls}"), ("listen 80", f"listen 127.0.0.1:{plain}"), ("127.0.0.1:8650", f"127.0.0.1:{app}"),
            ("/etc/oakenjug/tls", str(home)),
        ):  # fmt: skip
            self.assertIn(before, text)
            text = text.replace(before, after)
        paths = "".join(f"{name}_temp_path {home}/{name};\n" for name in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi"))
        (home / "nginx.conf").write_text(
            f"daemon off; worker_processes 1; pid {home}/pid; error_log {home}/error.log;\nevents {{}}\nhttp {{ access_log off;\n{paths}{text}\n}}\n"
        )
        program = shutil.which("nginx", path=debian._SBIN)
        assert program is not None
        process = subprocess.Popen([program, "-p", str(home), "-c", str(home / "nginx.conf")])
        self.addCleanup(process.wait, 20)
        self.addCleanup(process.send_signal, signal.SIGTERM)
        self.authority = home / "fullchain.pem"
        deadline = time.monotonic() + 10
        while time.monotonic() < deadline:
            try:
                socket.create_connection(("127.0.0.1", tls), timeout=1).close()
                return tls
            except OSError:
                time.sleep(0.05)
        raise AssertionError((home / "error.log").read_text())

    def ask(self, port: int, method: str, path: str, body: object = None, **headers: str) -> http.client.HTTPResponse:
        """A request to the proxy, under the name it serves."""
        trusts = ssl.create_default_context(cafile=str(self.authority))
        connection = http.client.HTTPSConnection("jug.example", port, context=trusts, timeout=20)
        plain = socket.create_connection(("127.0.0.1", port), timeout=20)
        connection.sock = trusts.wrap_socket(plain, server_hostname="jug.example")
        self.addCleanup(connection.close)
        data = None if body is None else json.dumps(body)
        connection.request(
            method, path, data, {"Host": "jug.example", "Content-Type": "application/json", "Referer": "https://jug.example/", **headers}
        )
        return connection.getresponse()

    def test_sign_in_address_stream_and_name(self) -> None:
        debian.ensure(proxy=True)
        self.started_before()
        process, address, _ = self.begin("demo", "--behind", "jug.example", "--port", str(self.free_port()))
        app = int(address.rsplit(":", 1)[1])
        port = self.proxy(app)
        page = self.ask(port, "GET", "/")
        self.assertEqual(page.status, 200)
        self.assertIn("max-age", page.headers["Strict-Transport-Security"])
        token = re.search(r"oakenjug_csrf=([^;]+)", " ".join(page.headers.get_all("Set-Cookie") or ()))
        assert token is not None
        jar = f"oakenjug_csrf={token[1]}"
        # An address that is only said along is not believed: the proxy says its own.
        begun = self.ask(
            port, "POST", "/api/v1/session", {"username": "ines", "password": "river-town-demo"},
            **{"Cookie": jar, "X-CSRFToken": token[1], "Origin": "https://jug.example", "X-Forwarded-For": "203.0.113.9"},
        )  # fmt: skip
        self.assertEqual(begun.status, 200, begun.read())
        cookies = " ".join(begun.headers.get_all("Set-Cookie") or ())
        self.assertRegex(cookies, r"oakenjug_session=[^;]+;.*Secure")
        session = re.search(r"oakenjug_session=([^;]+)", cookies)
        assert session is not None
        jar = f"oakenjug_session={session[1]}"
        here = json.loads(self.ask(port, "GET", "/api/v1/session/all", Cookie=jar).read())
        self.assertEqual(next(each["address"] for each in here["items"] if each["this_one"]), "127.0.0.1")
        with_list = self.ask(port, "GET", "/api/v1/batches", Cookie=jar)
        self.assertEqual(len(json.loads(with_list.read())["items"]), 40)
        stream = self.ask(port, "GET", "/api/v1/stream", Cookie=jar)
        self.assertEqual(stream.headers["Content-Type"], "text/event-stream")
        came: list[bytes] = []
        reader = threading.Thread(target=lambda: came.append(stream.readline()), daemon=True)
        reader.start()
        reader.join(20)
        self.assertTrue(came and came[0], "a stream is passed on as it comes")
        # Whoever finds the app itself under another name gets nothing.
        straight = http.client.HTTPConnection("127.0.0.1", app, timeout=10)
        straight.request("GET", "/api/v1/session", headers={"Host": "evil.example"})
        self.assertEqual(straight.getresponse().status, 400)
        process.send_signal(signal.SIGTERM)
        self.assertEqual(process.wait(timeout=30), 0)
