"""Times the walk endpoint of a running demo: what the server says it took, and what a caller waits.

Run with ``.venv/bin/python -m bench.endpoint http://127.0.0.1:8640``; it writes bench/endpoint.md.
"""

from __future__ import annotations

import http.cookiejar
import json
import re
import sys
import time
import urllib.request
from pathlib import Path
from statistics import median
from typing import Any

from bench.walk import fifteen_lines

ROUNDS = 200
WANTED_MS = 15


class Caller:
    """A signed-in person of the demo."""

    def __init__(self, address: str) -> None:
        self.address = address
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        self.opener.open(address + "/").read()
        shown = json.load(self.opener.open(address + "/api/session"))["demo_sign_ins"][0]
        self.post("/api/session", {"username": shown["username"], "password": shown["password"]})

    def post(self, path: str, body: Any) -> Any:
        token = next(cookie.value or "" for cookie in self.jar if cookie.name == "oakenjug_csrf")
        headers = {"Content-Type": "application/json", "X-CSRFToken": token}
        answer = self.opener.open(urllib.request.Request(self.address + path, json.dumps(body).encode(), headers))
        answer.body = answer.read()
        return answer


def timed(caller: Caller, document: dict[str, Any]) -> tuple[list[float], list[float], int]:
    """Server times and waiting times of many walks, and the size of one answer."""
    server, waited, size = [], [], 0
    for turn in range(ROUNDS + 20):
        began = time.perf_counter()
        answer = caller.post("/api/walk", document)
        spent = 1000 * (time.perf_counter() - began)
        said = re.search(r"total;dur=([\d.]+)", answer.headers["Server-Timing"])
        assert said is not None
        if turn >= 20:  # the first fill caches
            server.append(float(said[1]))
            waited.append(spent)
        size = len(answer.body)
    return sorted(server), sorted(waited), size


def main() -> None:
    caller = Caller(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8640")
    document = fifteen_lines()
    document.pop("kitchen", None)
    server, waited, size = timed(caller, document)
    text = f"""# Benchmark of the walk endpoint

Ferryman's Spice with 15 lines, {ROUNDS} requests one after another to `./jug demo` on the same machine (two shared
cores; times in milliseconds belong to the machine).

| | least | median | 95 of 100 |
|---|---:|---:|---:|
| the server says | {server[0]:.1f} | {median(server):.1f} | {server[int(0.95 * ROUNDS)]:.1f} |
| the caller waits | {waited[0]:.1f} | {median(waited):.1f} | {waited[int(0.95 * ROUNDS)]:.1f} |

Wanted: a median of the server's under {WANTED_MS} ms; {median(server) / WANTED_MS:.2f} of that. An answer has {size / 1000:.0f} kB.
"""
    (Path(__file__).parent / "endpoint.md").write_text(text, encoding="utf-8")
    print(text)


if __name__ == "__main__":
    main()
