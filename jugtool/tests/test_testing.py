"""./jug test itself: what a name stands for, what runs next, and that nothing that went wrong stays unsaid."""

from __future__ import annotations

import asyncio
import contextlib
import fcntl
import itertools
import os
import signal
import subprocess
import sys
import tempfile
import textwrap
import time
import unittest
from pathlib import Path
from unittest import mock

from jugtool.places import PYTHON, ROOT
from jugtool.say import Failed
from jugtool.testing import chosen, cluster, history, report, run, scratch
from jugtool.testing.outcome import Outcome, Wrong
from jugtool.testing.process import Worker
from jugtool.testing.queue import WORTH_JOINING_S, Group, Queue
from jugtool.testing.speed import USUAL_S, slowness
from jugtool.testing.suites import SUITES, Tests

_TESTS = """
    import os, socket, sys, time, unittest

    class Good(unittest.TestCase):
        def test_passes(self):
            print("said aloud")

    class Bad(unittest.TestCase):
        def test_one_of_three_subtests(self):
            for n in range(3):
                with self.subTest(n=n):
                    if n == 1:
                        print("seen at n = 1")
                        error = ValueError("cannot be sent anywhere")
                        error.held = (socket.socket(), lambda: None)
                        raise error
        def test_two_of_three_subtests(self):
            for n in range(3):
                with self.subTest(n=n):
                    self.assertEqual(n, 0)
        @unittest.skip("not today")
        def test_left_out(self):
            pass
        @unittest.expectedFailure
        def test_better_than_expected(self):
            pass

    class NotSetUp(unittest.TestCase):
        @classmethod
        def setUpClass(cls):
            raise RuntimeError("nothing to set up")
        def test_a(self): pass
        def test_b(self): pass

    class NotClearedAway(unittest.TestCase):
        @classmethod
        def tearDownClass(cls):
            raise RuntimeError("it stays")
        def test_passes(self): pass

    class Deadly(unittest.TestCase):
        def test_a(self): pass
        def test_b(self):
            print("last words", flush=True)
            os._exit(3)
        def test_c(self): pass

    class Endless(unittest.TestCase):
        def test_never_ends(self):
            time.sleep(60)
        def test_passes(self): pass

    class Tagged(unittest.TestCase):
        def test_alone(self): pass
        test_alone.tags = {"alone"}
        def test_not(self): pass
"""


#: One that fails when it is first tried, one that always does.
_AGAIN = """
    import os, unittest
    from pathlib import Path

    class Again(unittest.TestCase):
        def test_once(self):
            tried = Path(os.environ["AGAIN"]) / "tried"
            was, _ = tried.exists(), tried.write_text("")
            self.assertTrue(was)
        def test_always(self):
            self.fail("for ever")
        def test_passes(self): pass
"""


class Speed(unittest.TestCase):
    def test_a_machine_that_takes_twice_as_long_is_twice_as_slow_and_none_is_too_quick(self) -> None:
        for took_s, slow in ((2 * USUAL_S, 2.0), (USUAL_S, 1.0), (0.1 * USUAL_S, 1.0)):
            times = (tick * took_s for tick in itertools.count())
            with self.subTest(took_s=took_s):
                self.assertAlmostEqual(slowness(lambda times=times: next(times)), slow)  # type: ignore[misc]


class Workers(unittest.TestCase):
    """A worker with tests that go wrong in every way."""

    def setUp(self) -> None:
        scratch = tempfile.TemporaryDirectory(prefix="oakenjug-worker-")
        self.addCleanup(scratch.cleanup)
        (Path(scratch.name) / "mishaps.py").write_text(textwrap.dedent(_TESTS), encoding="utf-8")
        self.environment = {**os.environ, "PYTHONPATH": f"{ROOT}:{scratch.name}"}

    def run_all(self, *names: str, limit_s: float = 20.0, module: str = "mishaps") -> dict[str, Outcome]:
        """What comes of tests of one class, asked for together."""

        async def scene() -> list[Outcome]:
            worker = Worker("any", [sys.executable, "-m", "jugtool.testing.worker", module], self.environment, limit_s)
            await worker.start()
            self.told = {test.id: test for test in worker.tests}
            outcomes: list[Outcome] = []
            await worker.run([f"mishaps.{name}" for name in names], outcomes.append)
            await worker.stop()
            return outcomes

        outcomes = asyncio.run(scene())
        self.assertEqual(len(outcomes), len({outcome.name for outcome in outcomes}))
        return {outcome.name.removeprefix("mishaps."): outcome for outcome in outcomes}

    def test_what_passes_says_no_more(self) -> None:
        self.assertEqual([(o.wrong, o.printed) for o in self.run_all("Good.test_passes").values()], [((), "")])

    def test_every_failing_subtest_is_told_whatever_its_error_holds(self) -> None:
        found = self.run_all("Bad.test_one_of_three_subtests", "Bad.test_two_of_three_subtests")
        one, two = found["Bad.test_one_of_three_subtests"], found["Bad.test_two_of_three_subtests"]
        self.assertEqual([wrong.where for wrong in one.wrong], ["(n=1)"])
        self.assertIn("ValueError: cannot be sent anywhere", one.wrong[0].text)
        self.assertIn("seen at n = 1", one.printed)
        self.assertEqual([wrong.where for wrong in two.wrong], ["(n=1)", "(n=2)"])
        text = report.failure(one)
        for word in ("any: mishaps.Bad.test_one_of_three_subtests failed", "in (n=1)", "cannot be sent anywhere", "seen at n = 1"):
            self.assertIn(word, text)

    def test_what_does_not_run_does_not_pass(self) -> None:
        found = self.run_all("Bad.test_left_out", "Bad.test_better_than_expected")
        self.assertIn("not today", found["Bad.test_left_out"].wrong[0].text)
        self.assertFalse(found["Bad.test_better_than_expected"].passed)

    def test_what_a_class_cannot_set_up_or_clear_away_fails_its_tests(self) -> None:
        for outcome in self.run_all("NotSetUp.test_a", "NotSetUp.test_b").values():
            self.assertIn("nothing to set up", outcome.wrong[0].text)
        self.assertEqual(len(self.run_all("NotSetUp.test_a", "NotSetUp.test_b")), 2)
        found = self.run_all("NotClearedAway.test_passes")
        self.assertTrue(found["NotClearedAway.test_passes"].passed)
        self.assertIn("it stays", found["NotClearedAway"].wrong[0].text)

    def test_a_process_that_dies_costs_one_test_and_says_its_last_words(self) -> None:
        found = self.run_all("Deadly.test_a", "Deadly.test_b", "Deadly.test_c")
        self.assertEqual([name for name, outcome in found.items() if not outcome.passed], ["Deadly.test_b"])
        self.assertIn("code 3", found["Deadly.test_b"].wrong[0].text)
        self.assertIn("last words", found["Deadly.test_b"].printed)
        self.assertEqual(len(found), 3)

    def test_a_test_that_never_ends_is_stopped_and_says_where_it_stood(self) -> None:
        found = self.run_all("Endless.test_never_ends", "Endless.test_passes", limit_s=3.0)
        self.assertEqual([outcome.passed for outcome in found.values()], [False, True])
        self.assertIn("longer than 3 s", found["Endless.test_never_ends"].wrong[0].text)
        self.assertIn("test_never_ends", found["Endless.test_never_ends"].printed)

    def test_what_is_told_beforehand(self) -> None:
        self.run_all("Good.test_passes")
        self.assertEqual({id for id, test in self.told.items() if test.alone}, {"mishaps.Tagged.test_alone"})
        self.assertEqual({test.of_class for test in self.told.values() if test.shares}, {"mishaps.NotSetUp"})
        self.run_all(module="no_such_module")
        self.assertTrue(all("_FailedTest" in id for id in self.told), self.told)

    def test_the_core_runs_on_the_plain_runner_where_django_cannot_be_imported(self) -> None:
        command = [str(PYTHON), "-m", "jugtool.without_django"]
        done = subprocess.run([*command, "jugcore.tests.test_cells"], cwd=ROOT, capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertRegex(done.stderr, r"Ran \d+ tests")
        done = subprocess.run([*command, "jugserver.calculators.tests.test_calculators"], cwd=ROOT, capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 1)
        self.assertIn("must not be imported by the core", done.stderr)


def _group(name: str, seconds: float, suite: str = "a", *, alone: bool = False) -> Group:
    return Group(suite, (name,), seconds, alone)


class Queues(unittest.TestCase):
    def test_the_longest_first_and_each_once(self) -> None:
        queue = Queue({"a": 1.0})
        queue.join()
        self.assertTrue(queue.holds("a", [_group("x", 1), _group("y", 9), _group("z", 4)]))
        self.assertFalse(queue.holds("a", [_group("x", 1), _group("y", 9), _group("z", 4)]))
        taken: list[str] = []
        while group := queue.take("a"):
            taken += group.names
        self.assertEqual(taken, ["y", "z", "x"])

    def test_a_process_turns_to_what_nobody_is_at_then_to_where_most_is_left(self) -> None:
        queue = Queue({"a": 50.0, "b": 300.0, "c": 10.0})
        self.assertEqual([queue.join(), queue.join(), queue.join()], ["b", "a", "c"])
        queue.holds("a", [_group("x", 60)])
        queue.holds("b", [_group("x", WORTH_JOINING_S / 2, "b")])
        queue.holds("c", [])
        self.assertEqual(queue.join(), "a")  # what is left of b is done sooner by who is at it
        queue.take("a")
        self.assertIsNone(queue.join())

    def test_a_suite_somebody_left_is_not_forgotten(self) -> None:
        queue = Queue({"a": 1.0})
        self.assertEqual(queue.join(), "a")
        queue.holds("a", [_group("x", 1)])
        self.assertIsNone(queue.join())
        queue.leave("a")
        self.assertEqual(queue.join(), "a")

    def test_what_promises_a_time_waits_until_nothing_else_runs(self) -> None:
        queue = Queue({"a": 1.0, "b": 1.0})
        queue.holds("a", [_group("x", 1), _group("y", 50, alone=True)])
        queue.holds("b", [_group("z", 50, "b", alone=True)])
        self.assertEqual([group.names for group in iter(lambda: queue.take("a"), None)], [("x",)])
        self.assertIsNone(queue.take("b"))
        self.assertEqual({suite: [g.names for g in groups] for suite, groups in queue.alone().items()}, {"a": [("y",)], "b": [("z",)]})


class Names(unittest.TestCase):
    def picked(self, *names: str) -> dict[str, tuple[tuple[str, ...], tuple[str, ...]]]:
        return {each.suite.name: (each.parts, each.wanted or each.only) for each in chosen.choose(chosen.asked(names))}

    def test_no_name_is_everything(self) -> None:
        self.assertEqual([each.suite.name for each in chosen.choose(chosen.asked(()))], list(SUITES))
        self.assertFalse(any(each.wanted or each.only for each in chosen.choose(chosen.asked(()))))

    def test_a_suite_a_file_a_module_a_class_a_test(self) -> None:
        me = "jugtool.tests.test_testing"
        self.assertEqual(self.picked("lint")["lint"][1], ())
        for name in ("jugtool/tests/test_testing.py", me, "test_testing", f"{me}.Names", "Names.test_no_name_is_everything", "Deadly"):
            with self.subTest(name=name):
                wanted = name.removesuffix(".py").replace("/", ".")
                self.assertEqual(self.picked(name), {"tool": ((me,), (wanted,))})
        both = self.picked("test_calculators")
        self.assertEqual(set(both), {"core", "server", "browser"})
        self.assertEqual(set(self.picked("server", "test_calculators")), {"server"})
        several = self.picked("lint", "server", "e2e/test_calculators.py")
        self.assertEqual({suite: bool(wanted) for suite, (_, wanted) in several.items()}, {"lint": False, "server": False, "browser": True})
        self.assertEqual(set(self.picked("jugserver/calculators")), {"server"})
        self.assertEqual(set(self.picked("lint", "types")), {"lint", "types"})
        self.assertEqual(self.picked("tsc"), {"web": (("tsc",), ())})
        self.assertEqual(self.picked("parts.test.tsx"), {"web": (("vitest",), ("parts.test.tsx",))})

    def test_a_test_is_meant_by_any_whole_part_of_its_name(self) -> None:
        only = chosen.choose(chosen.asked(["test_solve"]))[0]
        self.assertTrue(only.wants("jugcore.tests.test_solve.Least.test_against_a_grid"))
        self.assertFalse(only.wants("jugcore.tests.test_solver.Least.test_against_a_grid"))
        self.assertTrue(only.wants("unittest.loader._FailedTest.jugcore.tests.test_solve"))  # what cannot be loaded is told

    def test_a_name_that_stands_for_nothing_is_refused(self) -> None:
        for name in ("nonsense", "test_solve.nothing.at.all", "jugcore/tests/test_nothing.py"):
            with self.subTest(name=name), self.assertRaises(Failed) as caught:
                chosen.asked([name])
            self.assertIn(name, caught.exception.why)
            self.assertIn("use one of lint", caught.exception.todo)
        with self.assertRaisesRegex(Failed, "none called test_families in server"):
            chosen.asked(["server", "test_families"])

    def test_a_name_is_found_where_any_test_is_called_so(self) -> None:
        gone, whole, check, both = chosen.asked(["jugcore.tests.test_solve.Gone", "jugcore/tests", "parts.test.tsx", "test_calculators"])
        told = {"core": ["jugcore.tests.test_solve.Least.test_against_a_grid"], "server": [], "browser": []}
        self.assertEqual([name.found(told) for name in (gone, whole, check, both)], [False, True, True, False])
        self.assertTrue(both.found({**told, "browser": ["e2e.test_calculators.Sums.test_every_sum_opens"]}))
        self.assertTrue(gone.found({}), "what cannot be loaded is told by that")
        self.assertTrue(gone.found({"core": ["unittest.loader._FailedTest.jugcore.tests.test_solve"]}))

    def test_what_failed_last_is_found_again(self) -> None:
        keys = [
            "core jugcore.tests.test_solve.Least.test_against_a_grid", "web vitest: src/parts/parts.test.tsx: Jug says it", "lint ruff check",
            "core jugcore.tests.test_gone.Gone.test_gone", "drift generated: docs/openapi.json", "nothing x",
        ]  # fmt: skip
        found = {each.suite.name: (each.parts, each.wanted or each.only) for each in chosen.failed(keys)}
        self.assertEqual(found, {
            "core": (("jugcore.tests.test_solve",), ("jugcore.tests.test_solve.Least.test_against_a_grid",)),
            "web": (("vitest",), ("src/parts/parts.test.tsx",)), "lint": (("ruff check",), ()), "drift": (("generated",), ()),
        })  # fmt: skip


class Kept(unittest.TestCase):
    def setUp(self) -> None:
        scratch = tempfile.TemporaryDirectory()
        self.addCleanup(scratch.cleanup)
        for name in ("KEPT", "HINTS"):
            patch = mock.patch.object(history, name, Path(scratch.name) / name)
            patch.start()
            self.addCleanup(patch.stop)

    def test_what_did_not_run_keeps_its_time_and_stays_failed(self) -> None:
        history.keep({"core a": 1.0, "core b": 2.0, "web c": 3.0}, ["core a", "web c"], whole=True)
        history.keep({"core a": 1.5}, [], whole=False)
        found = history.load()
        self.assertEqual((found.seconds, found.failed), ({"core a": 1.5, "core b": 2.0, "web c": 3.0}, ["web c"]))
        self.assertEqual(found.suite_s("core"), 3.5)
        history.keep({"core b": 2.0}, [], whole=True)  # what is no longer there is forgotten
        self.assertEqual((history.load().seconds, history.load().failed), ({"core b": 2.0}, []))

    def test_a_new_clone_goes_by_the_hints(self) -> None:
        history.keep({"core a": 0.2, "core b": 20.04}, [], whole=True)
        self.assertEqual(history.keep_hints(), 1)
        history.KEPT.unlink()
        self.assertEqual(history.load().seconds, {"core b": 20.0})
        history.KEPT.write_text("{ half", encoding="utf-8")
        self.assertEqual(history.load().seconds, {"core b": 20.0})


class Scratch(unittest.TestCase):
    def setUp(self) -> None:
        home = tempfile.TemporaryDirectory()
        self.addCleanup(home.cleanup)
        self.where = Path(home.name)
        for name, value in (("_MEMORY", self.where), ("_ROOM", 1)):
            patch = mock.patch.object(scratch, name, value)
            patch.start()
            self.addCleanup(patch.stop)

    def left(self, name: str, minutes: float) -> Path:
        """What a run that began so long ago keeps there."""
        held = self.where / name / "in-use"
        (held.parent / "tmp").mkdir(parents=True)
        held.touch()
        os.utime(held, (time.time() - 60 * minutes,) * 2)
        return held

    def test_what_a_killed_run_left_is_cleared_away_and_nothing_else(self) -> None:
        killed, long, new = self.left("oakenjug-run-a", 30), self.left("oakenjug-run-b", 30), self.left("oakenjug-run-c", 1)
        (self.where / "oakenjug-run-d").mkdir()  # somebody else's
        with long.open() as running:
            fcntl.flock(running, fcntl.LOCK_EX)
            with scratch.scratch() as ours:
                self.assertEqual((ours.parent, ours.stat().st_mode & 0o777, (ours / "tmp").stat().st_mode & 0o7777), (self.where, 0o755, 0o1777))
                self.assertEqual({each.name for each in self.where.iterdir()}, {"oakenjug-run-b", "oakenjug-run-c", "oakenjug-run-d", ours.name})
        self.assertFalse(ours.exists() or killed.exists())
        self.assertTrue(long.exists() and new.exists())

    def test_where_memory_is_short_it_is_kept_with_other_temporary_files(self) -> None:
        for short in (mock.patch.object(scratch, "_ROOM", 2**62), mock.patch.object(scratch, "_MEMORY", self.where / "not there")):
            with short, mock.patch("tempfile.gettempdir", return_value=str(self.where)), scratch.scratch() as ours:
                self.assertEqual(ours.parent, self.where)
        with mock.patch.object(scratch, "_ROOM", 2**62), scratch.scratch() as ours:
            self.assertNotEqual(ours.parent, self.where)


def _as_in_the_background() -> None:
    """What a shell does to whatever it starts with an ampersand."""
    for each in (signal.SIGINT, signal.SIGQUIT):
        signal.signal(each, signal.SIG_IGN)


class Cluster(unittest.TestCase):
    def test_a_server_that_has_only_begun_ends_where_a_shell_would_have_it_ignore_that(self) -> None:
        made = cluster.made()
        before = signal.signal(signal.SIGQUIT, signal.SIG_IGN)
        self.addCleanup(signal.signal, signal.SIGQUIT, before)
        with cluster.throw_away(made, wait=False) as started:
            pass  # ended at once, before it can have set up what it does with signals
        self.assertFalse(started.password_file.exists())


class Whole(unittest.TestCase):
    def test_a_run_that_is_broken_off_leaves_nothing_behind(self) -> None:
        for how in (signal.SIGINT, signal.SIGTERM):
            with self.subTest(how=how):
                runner = subprocess.Popen(
                    [str(ROOT / "jug"), "test", "jugcore.tests.test_solve", "jugserver.calculators", "--at-once", "2"], stdout=subprocess.PIPE,
                    stderr=subprocess.PIPE, text=True, preexec_fn=_as_in_the_background, start_new_session=True,
                )  # fmt: skip
                deadline = time.monotonic() + 60
                while not any("jugtool.testing.worker" in _command(pid) for pid in _below(runner.pid)) and time.monotonic() < deadline:
                    time.sleep(0.1)
                started = _below(runner.pid)
                self.assertTrue(started)
                runner.send_signal(how)
                self.assertEqual(runner.wait(timeout=30), 130)
                self.assertNotIn("Traceback", runner.communicate()[1])
                while any(map(_command, started)) and time.monotonic() < deadline:
                    time.sleep(0.1)
                self.assertEqual([_command(pid) for pid in started if _command(pid)], [])

    def test_the_last_line_counts_what_failed(self) -> None:
        told = report.Report(["core", "web"])
        told.tell(Outcome("core", "a", 1.0))
        told.tell(Outcome("web", "b", 1.0, (Wrong("it broke"),)))
        told.complete = True
        with mock.patch("jugtool.testing.report.say") as say:
            self.assertEqual(told.close(), 1)
        self.assertEqual(say.call_args.args, ("1 passed, 1 failed",))
        half = report.Report(["core"])
        half.tell(Outcome("core", "a", 1.0))
        half.complete, half.unknown = True, ["b"]
        with mock.patch("jugtool.testing.report.say") as say:
            self.assertEqual(half.close(), 1)
        self.assertEqual([call.args[0] for call in say.call_args_list][-2:], ["No test is called b.", "1 passed, 1 failed"])
        nothing = report.Report(["core"])
        nothing.complete = True
        with mock.patch("jugtool.testing.report.say"):
            self.assertEqual(nothing.close(), 1)

    def test_what_failed_beside_others_counts_as_it_does_alone_and_is_named(self) -> None:
        with tempfile.TemporaryDirectory(prefix="oakenjug-again-") as scratch_:
            (Path(scratch_) / "again.py").write_text(textwrap.dedent(_AGAIN), encoding="utf-8")
            told = report.Report(["browser"])
            lines: list[str] = []
            part = chosen.Chosen(Tests("browser", "", (), (sys.executable, "-m", "jugtool.testing.worker"), 1.0, again=True), ("again",))
            with (
                contextlib.ExitStack() as stack,
                mock.patch("jugtool.testing.report.say", lambda text: lines.extend(text.splitlines())),
            ):
                running = run._Run([part], history.History(), told, stack, False, 1)
                running.environment |= {"PYTHONPATH": f"{ROOT}:{scratch_}", "AGAIN": scratch_}
                asyncio.run(running.run())
                self.assertEqual(told.close(), 1)
        self.assertIn("Failed beside other tests, and passed once nothing else ran:", lines)
        self.assertIn("  browser  again.Again.test_once", lines)
        self.assertEqual(lines[lines.index("Failed; ./jug test --failed runs these again:") + 1], "  browser  again.Again.test_always")
        self.assertEqual(lines[-1], "2 passed, 1 failed")

    def test_a_machine_that_stood_still_is_told(self) -> None:
        async def scene(told: report.Report) -> None:
            with contextlib.ExitStack() as stack:
                watch = asyncio.create_task(run._Run([], history.History(), told, stack, False, 1)._watch())
                await asyncio.sleep(0.01)
                time.sleep(run._LOOKS_S + 0.2)  # nothing else gets a turn
                await asyncio.sleep(0.01)
                watch.cancel()

        told = report.Report([])
        lines: list[str] = []
        with mock.patch("jugtool.testing.run._STILL_S", 0.1), mock.patch("jugtool.testing.report.say", lines.append):
            asyncio.run(scene(told))
            told.close()
        self.assertIn("\nThe machine stood still:", lines)

    def test_a_name_that_no_test_has_fails_though_others_ran(self) -> None:
        done = subprocess.run(
            [str(ROOT / "jug"), "test", "jugcore.tests.test_compare.Gone", "lint"], capture_output=True, text=True, check=False, timeout=120
        )  # fmt: skip
        self.assertEqual(done.returncode, 1, done.stdout + done.stderr)
        self.assertEqual(done.stdout.splitlines()[-2:], ["No test is called jugcore.tests.test_compare.Gone.", "3 passed, 1 failed"])


def _command(pid: int) -> str:
    """What a process was started as; nothing of one that is gone."""
    try:
        return Path(f"/proc/{pid}/cmdline").read_text(encoding="utf-8", errors="replace").replace("\0", " ")
    except OSError:
        return ""


def _below(pid: int) -> list[int]:
    """The processes one has started, and theirs."""
    parents: dict[int, int] = {}
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            with contextlib.suppress(OSError):
                parents[int(entry.name)] = int((entry / "stat").read_text().rsplit(")", 1)[1].split()[1])
    found, todo = [], [pid]
    while todo:
        above = todo.pop()
        children = [child for child, parent in parents.items() if parent == above]
        found += children
        todo += children
    return found


if __name__ == "__main__":
    unittest.main()
