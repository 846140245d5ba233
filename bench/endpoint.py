"""Times the walk, solve and ways endpoints of a running demo: what the server says it took, and what a caller waits.

Run with ``.venv/bin/python -m bench.endpoint http://127.0.0.1:8640``; it writes bench/endpoint.md.
"""

from __future__ import annotations

import http.cookiejar
import json
import re
import sys
import time
import urllib.request
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from statistics import median
from typing import Any

from bench.walk import fifteen_lines
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.reading.equipment.pots import in_its_pots

ROUNDS = 100
#: Signed in, one small query: what any endpoint takes.
BARE = "/api/v1/kitchen"
#: What a median of the server's is wanted to stay under. [ms]
WANTED_MS = {"/api/v1/walk": 10, "/api/v1/solve": 60, "/api/v1/suggestions": None}
#: Fifteen lines, six targets.
TARGETS = [
    {"reading": "brix", "equals": 65.0}, {"reading": "yield_g", "at_least": 1600, "at_most": 1700}, {"reading": "water_activity", "at_most": 0.865},
    {"reading": "cold_margin", "at_least": 0}, {"reading": "spice_finished", "at_most": 40}, {"reading": "sugars_100g", "at_most": 66},
]  # fmt: skip


class Caller:
    """A signed-in person of the demo."""

    def __init__(self, address: str) -> None:
        self.address = address
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        self.opener.open(address + "/").read()
        shown = json.load(self.opener.open(address + "/api/v1/session"))["demo_sign_ins"][0]
        self.post("/api/v1/session", {"username": shown["username"], "password": shown["password"]})

    def get(self, path: str) -> Any:
        answer = self.opener.open(self.address + path)
        answer.body = answer.read()
        return answer

    def post(self, path: str, body: Any) -> Any:
        token = next(cookie.value or "" for cookie in self.jar if cookie.name == "oakenjug_csrf")
        headers = {"Content-Type": "application/json", "X-CSRFToken": token}
        answer = self.opener.open(urllib.request.Request(self.address + path, json.dumps(body).encode(), headers))
        answer.body = answer.read()
        return answer


@dataclass
class Times:
    """Server times and waiting times of many requests [ms], and one answer."""

    server: list[float] = field(default_factory=list)
    waited: list[float] = field(default_factory=list)
    answer: bytes = b""


def timed(caller: Caller, asked: dict[str, dict[str, Any] | None], here: Callable[[], object]) -> tuple[dict[str, Times], list[float]]:
    """Every request in turn, many times over, and ``here`` between them: a machine that changes its pace changes it for all. [ms]"""
    times = {path: Times() for path in asked}
    spent_here: list[float] = []
    for turn in range(ROUNDS + 20):
        for path, body in asked.items():
            began = time.perf_counter()
            answer = caller.get(path) if body is None else caller.post(path, body)
            spent = 1000 * (time.perf_counter() - began)
            said = re.search(r"total;dur=([\d.]+)", answer.headers["Server-Timing"])
            assert said is not None
            times[path].answer = answer.body
            if turn >= 20:  # the first fill caches
                times[path].server.append(float(said[1]))
                times[path].waited.append(spent)
        began = time.perf_counter()
        here()
        if turn >= 20:
            spent_here.append(1000 * (time.perf_counter() - began))
    return times, spent_here


def main() -> None:
    caller = Caller(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8640")
    document = fifteen_lines()
    document.pop("kitchen", None)
    asked: dict[str, dict[str, Any] | None] = {
        BARE: None,
        "/api/v1/walk": document,
        "/api/v1/solve": {"document": document, "ask": {"targets": TARGETS}},
        "/api/v1/suggestions": {"document": document, "reading": "brix", "value": 60},
    }
    lines = [
        "# Benchmark of the endpoints",
        "",
        f"Ferryman's Spice with 15 lines (solve: {len(TARGETS)} targets), {ROUNDS} requests of each in turn to `./jug demo` on the same",
        "machine (two shared cores; times in milliseconds belong to the machine).",
        "",
        "| | server: least | median | 95 of 100 | wanted | caller waits: median | answer, kB |",
        "|---|---:|---:|---:|---:|---:|---:|",
    ]
    # The same document walked with nothing around it, in this process.
    told = json.dumps(document).encode()
    times, walked = timed(caller, asked, lambda: in_its_pots(compile_document(MethodDocument.model_validate_json(told))))
    medians: dict[str, float] = {}
    for path, found_times in times.items():
        server, waited, answer = sorted(found_times.server), found_times.waited, found_times.answer
        wanted = WANTED_MS.get(path)
        medians[path] = median(server)
        share = "" if wanted is None else f"{wanted} ({median(server) / wanted:.2f} of it)"
        shown = f"{server[0]:.1f} | {median(server):.1f} | {server[int(0.95 * ROUNDS)]:.1f}"
        lines.append(f"| {path} | {shown} | {share} | {median(waited):.1f} | {len(answer) / 1000:.0f} |")
        if path == "/api/v1/solve":
            found = json.loads(answer)
            spent = found["timing"]
            ratio = spent["total_s"] / (spent["walks_s"] + spent["solver_s"])
            about = f"Solve: {found['status']} in {found['rounds']} rounds; {ratio:.2f} times its own walks and solver calls (wanted: at most 1.5)."
    over = medians["/api/v1/walk"] / (medians[BARE] + median(walked))
    both = f"{BARE} {medians[BARE]:.1f} ms and the document walked in {median(walked):.1f} ms: /api/v1/walk takes {over:.2f} times both"
    about += f"\nA bare endpoint is {both} (wanted: at most 1.6)."
    text = "\n".join([*lines, "", about, ""])
    (Path(__file__).parent / "endpoint.md").write_text(text, encoding="utf-8")
    print(text)


if __name__ == "__main__":
    main()
