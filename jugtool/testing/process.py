"""A worker as the runner sees it: started, asked, and replaced when it dies."""

from __future__ import annotations

import asyncio
import contextlib
import json
import os
import signal
import tempfile
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from jugtool.places import ROOT
from jugtool.testing.outcome import Outcome, Wrong

#: A listing of a thousand tests is one line.
_LONGEST_LINE = 2**26
#: Loading a suite's modules may take so long. [s]
_LOADS_S = 120.0
#: Clearing up may take so long before it is ended. [s]
_CLEARS_UP_S = 15.0
#: So much of what was printed is shown of a test that failed.
_SHOWN = 8000


@dataclass(frozen=True)
class LoadedTest:
    """What a worker tells of a test before it runs."""

    id: str
    of_class: str
    shares: bool
    alone: bool


class Worker:
    """One process that runs tests of one suite; a new one takes its place when it dies or takes too long."""

    def __init__(self, suite: str, command: Sequence[str], env: dict[str, str], limit_s: float) -> None:
        self._suite, self._command, self._env, self._limit_s = suite, command, env, limit_s
        self._process: asyncio.subprocess.Process | None = None
        self._log = tempfile.TemporaryFile("w+b", prefix="oakenjug-log-")  # noqa: SIM115 - as long as this lasts
        self.tests: list[LoadedTest] = []

    async def start(self) -> None:
        """Have it ready, its tests told.

        Raises
        ------
        Died
            It could not load what it should.
        """
        self._process = await asyncio.create_subprocess_exec(
            *self._command, cwd=ROOT, env=self._env, stdin=asyncio.subprocess.PIPE, stdout=asyncio.subprocess.PIPE, stderr=self._log,
            limit=_LONGEST_LINE, start_new_session=True,
        )  # fmt: skip
        told = await self._line(_LOADS_S)
        self.tests = [LoadedTest(t["id"], t["class"], t["shares"], t["alone"]) for t in told["tests"]]

    async def run(self, names: Sequence[str], tell: Callable[[Outcome], None]) -> None:
        """Run tests in this order and tell what came of each; every name is answered for."""
        waiting = list(names)
        while waiting:
            waiting = await self._run(waiting, tell)

    async def _run(self, names: list[str], tell: Callable[[Outcome], None]) -> list[str]:
        """Run them in the process there is; what is left to be run in another, since this one died."""
        around: list[Wrong] = []
        left, now, since = list(names), names[0], self._written()
        if self._process is None:
            try:
                await self.start()
            except Died as died:
                for name in left:
                    tell(Outcome(self._suite, name, 0.0, (Wrong(str(died)),)))
                return []
        try:
            await self._ask(names)
            while True:
                told = await self._line(self._limit_s)
                if "began" in told:
                    now, since = told["began"], told["at"]
                elif "around" in told:
                    around.append(Wrong(told["text"], told["around"]))
                elif "ended" in told:
                    left.remove(told["ended"])
                    wrong = tuple(Wrong(each["text"], each["where"]) for each in told["wrong"])
                    tell(Outcome(self._suite, told["ended"], told["seconds"], wrong, self._printed(since) if wrong else ""))
                else:
                    if told["done"]:
                        around.append(Wrong(told["done"], "the process"))
                    break
        except Died as died:
            await self.kill()
            left.remove(now)
            tell(Outcome(self._suite, now, died.seconds, (*around, Wrong(str(died))), self._printed(since)))
            return left
        for name in left:  # their class could not set up what they need
            tell(Outcome(self._suite, name, 0.0, (*around,) or (Wrong("It did not run."),), self._printed(since)))
        if around and not left:  # they ran, and their class could not clear away what it had set up
            tell(Outcome(self._suite, names[-1].rpartition(".")[0], 0.0, (*around,), self._printed(since)))
        return []

    async def _ask(self, names: list[str]) -> None:
        assert self._process is not None and self._process.stdin is not None
        try:
            self._process.stdin.write((json.dumps({"run": names}) + "\n").encode())
            await self._process.stdin.drain()
        except (BrokenPipeError, ConnectionResetError):
            raise await self._died() from None

    async def _line(self, limit_s: float) -> dict[str, Any]:
        assert self._process is not None and self._process.stdout is not None
        try:
            line = await asyncio.wait_for(self._process.stdout.readline(), limit_s)
        except TimeoutError:
            self._process.send_signal(signal.SIGUSR1)  # it writes down where it stands
            await asyncio.sleep(0.5)
            raise Died(f"It took longer than {limit_s:g} s and was stopped. Where it stood is below.", limit_s) from None
        if not line:
            raise await self._died()
        found: dict[str, Any] = json.loads(line)
        return found

    async def _died(self) -> Died:
        assert self._process is not None
        code = await self._process.wait()
        return Died(f"The process of the {self._suite} suite ended with code {code} while it ran. What it printed is below.\n{self._printed(0)}")

    async def stop(self) -> None:
        """Let it clear up and end, since nobody asks any more."""
        if self._process is not None and self._process.returncode is None and self._process.stdin is not None:
            self._process.stdin.close()
            with contextlib.suppress(TimeoutError):
                await asyncio.wait_for(self._process.wait(), _CLEARS_UP_S)
        await self.kill()

    async def kill(self) -> None:
        """End it and everything it started."""
        if self._process is not None:
            process, self._process = self._process, None
            with contextlib.suppress(ProcessLookupError):
                os.killpg(process.pid, signal.SIGKILL)
            # To the end of what it tells: its pipes would outlive the loop that reads them.
            with contextlib.suppress(TimeoutError):
                await asyncio.wait_for(process.communicate(), _CLEARS_UP_S)

    def _written(self) -> int:
        return os.fstat(self._log.fileno()).st_size

    def _printed(self, since: int) -> str:
        size = self._written()
        start = max(since, size - _SHOWN)
        return os.pread(self._log.fileno(), size - start, start).decode(errors="replace").strip()


class Died(Exception):
    """A worker ended, or had to be ended, before it had answered."""

    def __init__(self, text: str, seconds: float = 0.0) -> None:
        super().__init__(text)
        self.seconds = seconds
