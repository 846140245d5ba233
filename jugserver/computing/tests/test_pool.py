"""The computing pool: bounded in time, memory and number, fair between people, and given up when whoever asked has left."""

from __future__ import annotations

import json
import time
from pathlib import Path
from tempfile import TemporaryDirectory
from threading import Event, Thread
from typing import Any
from unittest import TestCase

from jugcore.errors import BadDocument
from jugcore.method.compile import compile_document
from jugcore.solving.schema import SolveRequest, solve_report
from jugserver.computing.pool import MOST_OF_ONE, Asking, Busy, Left, Pool, TooLong, asking
from jugserver.computing.tests.work import dies, hungry, refuses, slow
from jugserver.computing.turns import Turns
from jugserver.demo.documents import demo_document
from jugserver.demo.load import demo_kitchen


class Computing(TestCase):
    pool: Pool

    @classmethod
    def setUpClass(cls) -> None:
        cls.pool = Pool(1, most_s=6.0)
        cls.addClassCleanup(cls.pool.stop)
        cls.pool.run("anyone", slow, 0.0)

    def test_a_report_is_what_it_would_be_here(self) -> None:
        document = demo_document("ferrymans-spice").model_copy(update={"kitchen": demo_kitchen()})
        method = compile_document(document)
        ask = SolveRequest.model_validate({"targets": [{"reading": "brix", "equals": 62}]})
        self.assertEqual(json.loads(self.pool.run("anyone", solve_report, method, ask)), json.loads(solve_report(method, ask).model_dump_json()))

    def test_it_gives_way_to_what_serves_pages(self) -> None:
        self.assertGreaterEqual(json.loads(self.pool.run("anyone", slow, 0.0))["value"], 10)

    def test_what_it_refuses_is_refused_in_its_own_words(self) -> None:
        with self.assertRaisesRegex(BadDocument, "Nothing may change"):
            self.pool.run("anyone", refuses)

    def test_too_long_too_much_memory_and_a_dead_process_are_said_and_the_next_is_served(self) -> None:
        for function, arguments, words in ((slow, (60.0,), "longer than 6 s"), (hungry, (), "more memory"), (dies, (), "more memory")):
            began = time.monotonic()
            with self.subTest(words), self.assertRaisesRegex(TooLong, words):
                self.pool.run("anyone", function, *arguments)
            self.assertLess(time.monotonic() - began, 20)
            self.assertEqual(self.pool.turns.under_way(), (0, 0))
            self.pool.run("anyone", slow, 0.0)

    def test_whoever_leaves_lets_go_of_what_runs_and_what_waits(self) -> None:
        outcome: dict[str, Any] = {}
        started = Path(self.enterContext(TemporaryDirectory())) / "started"
        asked: dict[str, Asking] = {"runs": Asking(), "waits": Asking()}

        def ask(name: str, *arguments: Any) -> None:
            asking.set(asked[name])
            try:
                outcome[name] = self.pool.run(name, slow, *arguments)
            except Left as error:
                outcome[name] = error

        threads = [Thread(target=ask, args=("runs", 60.0, str(started)))]
        threads[0].start()
        while not started.exists():
            time.sleep(0.02)
        process = int(started.read_text() or 0)
        threads.append(Thread(target=ask, args=("waits", 60.0)))
        threads[1].start()
        while self.pool.turns.under_way() != (1, 1):
            time.sleep(0.02)
        asked["waits"].leave()
        threads[1].join(5)
        self.assertIsInstance(outcome["waits"], Left)
        began = time.monotonic()
        asked["runs"].leave()
        threads[0].join(5)
        self.assertIsInstance(outcome["runs"], Left)
        self.pool.run("anyone", slow, 0.0)
        self.assertLess(time.monotonic() - began, 5.5)
        self.assertFalse(Path(f"/proc/{process}/cmdline").exists() and Path(f"/proc/{process}/cmdline").read_bytes(), "it still computes")


class InTurn(TestCase):
    def test_the_next_persons_first_comes_after_one_of_the_firsts_many(self) -> None:
        turns = Turns(at_once=1, most_of_one=10)
        many = [turns.take("one", Event()) for _ in range(5)]
        other = turns.take("two", Event())
        third = turns.take("three", Event())
        order = []
        waiting = [("one", turn) for turn in many] + [("two", other), ("three", third)]
        while waiting:
            called = [(who, turn) for who, turn in waiting if turn is not None and turn.called]
            self.assertEqual(len(called), 1)
            who, turn = called[0]
            order.append(who)
            waiting.remove((who, turn))
            assert turn is not None
            turns.give_back(turn)
        self.assertEqual(order[:4], ["one", "one", "two", "three"] if order[1] == "one" else ["one", "two", "three", "one"])
        self.assertLess(max(order.index("two"), order.index("three")), 4)
        self.assertEqual(turns.under_way(), (0, 0))

    def test_one_person_has_so_many_in_the_queue_and_a_turn_is_given_back_once(self) -> None:
        turns = Turns(at_once=2, most_of_one=3)
        taken = [turns.take("one", Event()) for _ in range(4)]
        self.assertIsNone(taken[3])
        for turn in (taken[0], taken[0], taken[2], taken[2], taken[1]):
            assert turn is not None
            turns.give_back(turn)
        self.assertEqual(turns.under_way(), (0, 0))
        self.assertIsNotNone(turns.take("one", Event()))

    def test_beyond_that_it_says_so(self) -> None:
        pool = Pool(1)
        self.addCleanup(pool.stop)
        held = [pool.turns.take("one", Event()) for _ in range(MOST_OF_ONE)]
        with self.assertRaisesRegex(Busy, "has to wait"):
            pool.run("one", slow, 0.0)
        self.assertEqual(len([turn for turn in held if turn]), MOST_OF_ONE)
