"""./jug test: everything that is to run, from one queue, in one process more at once than there are cores."""

from __future__ import annotations

import asyncio
import contextlib
import os
import signal
import tempfile
from collections.abc import AsyncIterator, Callable, Sequence
from pathlib import Path
from typing import Protocol

from jugtool import debian, install
from jugtool.places import ROOT
from jugtool.say import Failed, say
from jugtool.testing import chosen as choosing
from jugtool.testing import cluster, history, scratch
from jugtool.testing.chosen import Chosen
from jugtool.testing.outcome import Outcome, Wrong
from jugtool.testing.process import Died, LoadedTest, Worker
from jugtool.testing.queue import Group, Queue
from jugtool.testing.report import Report
from jugtool.testing.suites import Checks, Need, Tests

#: One more than cores, since browsers wait as much as they work; more of them gain little.
_MORE_THAN_CORES, _MOST_AT_ONCE = 1, 4
#: What Node has compiled of the tools it runs outlives a run, as it does where nobody says otherwise.
_NODE_CACHE = Path(tempfile.gettempdir()) / "node-compile-cache"
#: A test may take so long before it counts as one that never ends; every example takes its time. [s]
_LIMIT_S, _DEEP_LIMIT_S = 420.0, 1800.0
#: So many failed tests are tried once more when nothing else runs; where more fail, it is not the machine.
_MOST_AGAIN = 10
#: The run looks at its own clock so often, and tells when it was kept from it for longer. [s]
_LOOKS_S, _STILL_S = 0.5, 3.0


def run(names: Sequence[str], *, failed: bool = False, deep: bool = False, at_once: int | None = None, keep_times: bool = False) -> int:
    """Run what the names stand for; the last line printed is “N passed, N failed”."""
    known = history.load()
    if failed and not known.failed:
        say("Nothing failed when it last ran.")
        return 0
    asked = [] if failed else choosing.asked(names)
    parts = choosing.failed(known.failed) if failed else choosing.choose(asked)
    needs = {need for part in parts for need in part.suite.needs}
    debian.ensure(browser="chromium" in needs)
    install.python_packages("dev")
    report = Report([part.suite.name for part in parts])
    everything = not names and not failed
    try:
        with contextlib.ExitStack() as stack:
            running = _Run(parts, known, report, stack, deep, at_once or min((os.cpu_count() or 1) + _MORE_THAN_CORES, _MOST_AT_ONCE))
            asyncio.run(running.run())
            report.unknown = [name.name for name in asked if not name.found(running.told)]
    except asyncio.CancelledError:
        raise KeyboardInterrupt from None
    finally:
        history.keep(report.seconds(), report.failed(), whole=everything and report.complete)
    if keep_times:
        say(f"{history.keep_hints()} times are kept for new clones.")
    return report.close()


class _Process(Protocol):
    """Whoever runs groups of one suite."""

    async def groups(self) -> list[Group]: ...
    async def run(self, group: Group) -> None: ...
    async def stop(self) -> None: ...
    async def kill(self) -> None: ...


class _Run:
    def __init__(self, parts: list[Chosen], known: history.History, report: Report, stack: contextlib.ExitStack, deep: bool, at_once: int) -> None:
        self.known, self.report, self.stack, self.at_once = known, report, stack, at_once
        self.parts = {part.suite.name: part for part in parts}
        self.limit_s = _DEEP_LIMIT_S if deep else _LIMIT_S
        # What tests keep for others of this run, and whatever is temporary.
        self.scratch = stack.enter_context(scratch.scratch())
        self.environment = {
            **os.environ, "OAKENJUG_RUN": str(self.scratch), "TMPDIR": str(self.scratch / "tmp"), "NODE_COMPILE_CACHE": str(_NODE_CACHE),
            "PYTHONPATH": str(ROOT), "PYTHONFAULTHANDLER": "1",
            "DJANGO_SETTINGS_MODULE": "jugserver.config.settings", "OAKENJUG_MODE": "test", **({"OAKENJUG_DEEP": "1"} if deep else {}),
        }  # fmt: skip
        self.queue = Queue({part.suite.name: self._expected_s(part) for part in parts})
        #: Suite → the names of all tests it was asked to load.
        self.told: dict[str, list[str]] = {}
        self.ready: dict[Need, asyncio.Task[dict[str, str]]] = {}

    def _expected_s(self, part: Chosen) -> float:
        """What a suite will take in all, as far as is known before its tests are."""
        if part.wanted or isinstance(part.suite, Checks):
            return part.suite.usual_s * max(len(part.wanted), len(part.parts))
        return self.known.suite_s(part.suite.name) or part.suite.usual_s * 40

    async def run(self) -> None:
        task = asyncio.current_task()
        assert task is not None
        asyncio.get_running_loop().add_signal_handler(signal.SIGTERM, task.cancel)
        slots = [asyncio.create_task(self._slot()) for _ in range(self.at_once)]
        watch = asyncio.create_task(self._watch())
        try:
            await asyncio.gather(*slots)
            for suite, groups in self.queue.alone().items():
                async with self._at(suite) as process:
                    for group in groups:
                        await process.run(group)
            for suite, part in self.parts.items():
                if isinstance(part.suite, Tests) and part.suite.again:
                    await self._again(suite, self.report.failed_of(suite))
        finally:
            for task in (*slots, watch):
                task.cancel()
            await asyncio.gather(*slots, watch, return_exceptions=True)
        self.report.complete = True

    async def _again(self, suite: str, failed: list[str]) -> None:
        """Try tests that failed once more, one after another."""
        names = [name for name in failed if name in self.told.get(suite, ())]
        if not names or len(names) > _MOST_AGAIN:
            return
        with contextlib.suppress(Died):  # they stay failed
            async with self._at(suite, self.report.tell_again) as process:
                await process.groups()
                for name in names:
                    await process.run(Group(suite, (name,), 0.0))

    async def _watch(self) -> None:
        loop = asyncio.get_running_loop()
        while True:
            before = loop.time()
            await asyncio.sleep(_LOOKS_S)
            late = loop.time() - before - _LOOKS_S
            if late >= _STILL_S:
                self.report.stood_still(late)

    async def _slot(self) -> None:
        while suite := self.queue.join():
            try:
                async with self._at(suite) as process:
                    self.queue.holds(suite, await process.groups())
                    while group := self.queue.take(suite):
                        await process.run(group)
            except Died as died:  # another process of the same suite fares no better
                if self.queue.holds(suite, []):
                    self.report.tell(Outcome(suite, "loading", 0.0, (Wrong(str(died)),)))
            finally:
                self.queue.leave(suite)

    @contextlib.asynccontextmanager
    async def _at(self, suite: str, tell: Callable[[Outcome], None] | None = None) -> AsyncIterator[_Process]:
        """A process for a suite; ``tell`` hears what comes of its tests, the report where nothing is said."""
        tell = tell or self.report.tell
        part = self.parts[suite]
        environment = dict(self.environment)
        for need in sorted(part.suite.needs):
            environment |= await self._need(need)
        process: _Process
        if isinstance(part.suite, Tests):
            process = _Tests(part, part.suite, environment, self.known, self.limit_s, tell, self.told)
        else:
            process = _Checks(part, part.suite, environment, tell)
        try:
            yield process
        except BaseException:
            await process.kill()
            raise
        await process.stop()

    async def _need(self, need: Need) -> dict[str, str]:
        """Have it ready, once for all who need it; gives what must be in the environment for it."""
        if need not in self.ready:
            self.ready[need] = asyncio.create_task({"screens": self._screens, "database": self._database, "chromium": self._chromium}[need]())
        return await asyncio.shield(self.ready[need])

    async def _screens(self) -> dict[str, str]:
        await asyncio.to_thread(install.web_build)
        return {}

    async def _chromium(self) -> dict[str, str]:
        return {}  # installed at the start, where it may be asked for

    async def _database(self) -> dict[str, str]:
        template = await asyncio.to_thread(cluster.made)
        # Started from this thread, since the server ends with the thread it was started by; it starts while the workers do.
        return self.stack.enter_context(cluster.throw_away(template, within=self.scratch, wait=False)).environment()


class _Tests:
    """A worker, and how its tests are put together."""

    def __init__(
        self, part: Chosen, suite: Tests, environment: dict[str, str], known: history.History, limit_s: float, tell: Callable[[Outcome], None],
        told: dict[str, list[str]],
    ) -> None:  # fmt: skip
        self.part, self.suite, self.known, self.tell, self.told = part, suite, known, tell, told
        self.worker = Worker(suite.name, [*suite.worker, *part.parts], environment, limit_s)

    async def groups(self) -> list[Group]:
        await self.worker.start()
        self.told[self.suite.name] = [test.id for test in self.worker.tests]
        together: dict[tuple[str, bool], list[LoadedTest]] = {}
        for test in self.worker.tests:
            if self.part.wants(test.id):
                together.setdefault((test.of_class if test.shares else test.id, test.alone), []).append(test)
        return [
            Group(self.suite.name, tuple(test.id for test in tests), sum(self._expected_s(test.id) for test in tests), alone)
            for (_, alone), tests in together.items()
        ]

    def _expected_s(self, id: str) -> float:
        return self.known.seconds.get(history.key(self.suite.name, id), self.suite.usual_s)

    async def run(self, group: Group) -> None:
        await self.worker.run(group.names, self.tell)

    async def stop(self) -> None:
        await self.worker.stop()

    async def kill(self) -> None:
        await self.worker.kill()


class _Checks:
    def __init__(self, part: Chosen, suite: Checks, environment: dict[str, str], tell: Callable[[Outcome], None]) -> None:
        self.part, self.suite, self.environment, self.tell = part, suite, environment, tell

    async def groups(self) -> list[Group]:
        return [Group(self.suite.name, (name,), self.suite.usual_s) for name in self.part.parts]

    async def run(self, group: Group) -> None:
        try:
            outcomes = await self.suite.checks[group.names[0]](self.environment, self.part.only)
        except Failed as failed:
            outcomes = [Outcome(self.suite.name, group.names[0], 0.0, (Wrong(f"{failed.step}: {failed.why}\n{failed.todo}"),))]
        for outcome in outcomes:
            self.tell(outcome)

    async def stop(self) -> None:
        pass

    async def kill(self) -> None:
        pass
