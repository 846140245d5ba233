"""Containers and what became of them: the last word counts, in whatever order it came; days wait in the freezer; first to expire first."""

from __future__ import annotations

import itertools
import unittest
from datetime import UTC, date, datetime, timedelta
from uuid import UUID

import numpy as np

from jugcore.stock import movements as m
from jugcore.stock.on_hand import Held, first_to_expire, on_hand
from jugcore.stock.standing import Container, Standing, standing
from jugcore.stock.taking import offered, shares_g
from jugcore.tests import depth

MADE = datetime(2026, 3, 2, 8, 0, tzinfo=UTC)
WEEK = Container(date(2026, 3, 8), "The local seven-day mark decides.", opened_days=3)


def _at(hours: float, what: m.What, n: int = 0) -> m.Movement:
    return m.Movement(id=UUID(int=int(hours * 100) * 1000 + n), at=MADE + timedelta(hours=hours), what=what)


def _stands(*entries: m.Movement, container: Container = WEEK) -> Standing:
    return standing(container, entries, lambda at: at.date())


FILLED = _at(0, m.FilledEntry(mass_g=500, place="kitchen"))


class Entries(unittest.TestCase):
    def test_a_bottle_s_life(self) -> None:
        found = _stands(FILLED, _at(2, m.MovedEntry(place="kiln")), _at(24, m.OpenedEntry()), _at(30, m.WeighedEntry(mass_g=412)))
        self.assertEqual((found.place, found.mass_g, found.served_g, found.gone), ("kiln", 412, 88, ""))
        # Opened on the 3rd, three days with that one: the 5th, before its own last day.
        self.assertEqual(found.good_until, date(2026, 3, 5))
        self.assertIn("Opened 03 Mar", found.why)
        empty = _stands(FILLED, _at(30, m.WeighedEntry(mass_g=412)), _at(40, m.EmptiedEntry()))
        self.assertEqual((empty.mass_g, empty.served_g, empty.gone), (0, 500, "emptied"))

    def test_no_entry_is_read_with_a_time_that_has_not_come(self) -> None:
        now = datetime(2026, 10, 5, 8, 0, tzinfo=UTC)
        for said, read in ((-3 * 86400, -3 * 86400), (-60, -60), (60, 0), (10**6, 0)):
            self.assertEqual(m.read_at(now + timedelta(seconds=said), now), now + timedelta(seconds=read))

    def test_opening_late_lengthens_nothing(self) -> None:
        self.assertEqual(_stands(FILLED, _at(24 * 5.5, m.OpenedEntry())).good_until, date(2026, 3, 8))

    def test_the_freezer_pauses_its_days_and_never_resets_them(self) -> None:
        # In on the 3rd, out on the 9th: five whole days between them wait, and the 8th becomes the 13th.
        inside = _stands(FILLED, _at(24, m.FrozenEntry()))
        self.assertEqual((inside.frozen, inside.good_until, inside.left_days), (True, None, 5))
        out = _stands(FILLED, _at(24, m.FrozenEntry()), _at(24 * 7, m.ThawedEntry()))
        self.assertEqual((out.frozen, out.good_until), (False, date(2026, 3, 13)))
        late = _stands(FILLED, _at(24 * 8, m.FrozenEntry()))
        self.assertTrue(late.too_late)
        self.assertIn("throw it away", late.why)

    def test_what_is_found_or_weighed_after_it_was_gone_is_there_after_all(self) -> None:
        self.assertEqual(_stands(FILLED, _at(1, m.CountedEntry(there=False))).gone, "missing")
        found = _stands(FILLED, _at(1, m.CountedEntry(there=False)), _at(2, m.CountedEntry(place="ferry")))
        self.assertEqual((found.gone, found.place, found.mass_g), ("", "ferry", 500))
        weighed = _stands(FILLED, _at(1, m.EmptiedEntry()), _at(2, m.WeighedEntry(mass_g=30)))
        self.assertEqual((weighed.gone, weighed.mass_g, weighed.served_g), ("", 30, 470))

    def test_poured_away_is_waste_and_emptied_is_served(self) -> None:
        some = _stands(FILLED, _at(1, m.PouredAwayEntry(mass_g=120, reason="spilt")))
        self.assertEqual((some.mass_g, some.poured_g, some.served_g, some.gone), (380, 120, 0, ""))
        rest = _stands(FILLED, _at(1, m.PouredAwayEntry(mass_g=120, reason="spilt")), _at(2, m.PouredAwayEntry(reason="past its day")))
        self.assertEqual((rest.mass_g, rest.poured_g, rest.gone), (0, 500, "poured away"))

    def test_what_goes_into_a_batch_is_neither_served_nor_waste(self) -> None:
        found = _stands(FILLED, _at(1, m.TakenEntry(mass_g=200, batch=UUID(int=1))))
        self.assertEqual((found.mass_g, found.served_g, found.poured_g), (300, 0, 0))

    def test_the_order_in_which_entries_arrive_makes_no_difference(self) -> None:
        entries = [FILLED, _at(2, m.MovedEntry(place="kiln")), _at(3, m.OpenedEntry()), _at(4, m.WeighedEntry(mass_g=300)), _at(5, m.EmptiedEntry())]
        self.assertEqual(len({_stands(*order) for order in itertools.permutations(entries)}), 1)

    def test_grams_add_up_whatever_is_entered(self) -> None:
        rng = np.random.default_rng(19)
        for _ in range(depth.often(2000, daily=200)):
            entries = [FILLED]
            for n in range(int(rng.integers(1, 9))):
                grams = float(rng.uniform(1, 600))
                what: list[m.What] = [
                    m.WeighedEntry(mass_g=grams), m.TakenEntry(mass_g=grams, batch=UUID(int=1)), m.EmptiedEntry(), m.PouredAwayEntry(mass_g=grams, reason="r"),
                    m.PouredAwayEntry(reason="r"), m.OpenedEntry(), m.MovedEntry(place="a"), m.CountedEntry(there=bool(rng.integers(2))), m.FrozenEntry(), m.ThawedEntry(),
                ]  # fmt: skip
                entries.append(_at(float(rng.uniform(1, 200)), what[int(rng.integers(len(what)))], n))
            found = _stands(*entries)
            self.assertGreaterEqual(min(found.mass_g, found.served_g, found.poured_g), 0)
            heavier = sum(e.what.mass_g for e in entries if isinstance(e.what, m.WeighedEntry))
            self.assertLessEqual(found.mass_g + found.served_g + found.poured_g, 500 + heavier + 1e-9)
            if found.gone in ("emptied", "poured away"):
                self.assertEqual(found.mass_g, 0)


def _held(id: str, until: date | None, **more: object) -> Held:
    values = {"product": "Weir Simple", "place": "kitchen", "mass_g": 500.0, "opened": False, "frozen": False, "too_late": False, "made": MADE.date()}
    return Held(id=id, good_until=until, **{**values, **more})  # type: ignore[arg-type]


class Taking(unittest.TestCase):
    def test_the_first_batch_that_holds_enough_and_no_more_bottles_than_it_takes(self) -> None:
        day = date(2026, 3, 9)
        held = [
            _held("a", day, mass_g=100.0, batch="1"), _held("b", day, mass_g=300.0, batch="2"), _held("c", day, mass_g=300.0, batch="2"),
            _held("d", day, mass_g=900.0, batch="3"),
        ]  # fmt: skip
        for wanted, ids in ((100.9, ["a"]), (200, ["b"]), (301, ["b"]), (400, ["b", "c"]), (700, ["d"]), (1000, [])):
            with self.subTest(wanted=wanted):
                self.assertEqual(offered(held, wanted), ids)

    def test_what_is_taken_adds_up_and_none_gives_more_than_it_holds(self) -> None:
        self.assertEqual(shares_g([150.0, 150.0], 200.0), ([150.0, 50.0], 0.0))
        self.assertEqual(shares_g([150.0, 150.0], 100.0), ([100.0, 0.0], 0.0))
        self.assertEqual(shares_g([150.0, 150.0], 300.8), ([150.0, 150.0], 0.0))
        shares, lacks = shares_g([150.0], 200.0)
        self.assertEqual((shares, lacks), ([150.0], 50.0))


class OnHandNow(unittest.TestCase):
    today = date(2026, 3, 8)

    def test_what_must_go(self) -> None:
        for until, more, haste in (
            (date(2026, 3, 7), {}, "throw"), (date(2026, 3, 8), {}, "today"), (date(2026, 3, 9), {}, "soon"), (date(2026, 3, 10), {}, "keeps"),
            (None, {}, "keeps"), (None, {"frozen": True}, "frozen"), (None, {"frozen": True, "too_late": True}, "throw"),
        ):  # fmt: skip
            with self.subTest(until=until, more=more):
                self.assertEqual(_held("a", until, **more).haste(self.today), haste)

    def test_first_to_expire_first_and_what_is_open_before_what_is_closed(self) -> None:
        order = [
            _held("open", date(2026, 3, 9), opened=True), _held("closed", date(2026, 3, 9)), _held("later", date(2026, 3, 10)), _held("none", None),
            _held("frozen", None, frozen=True),
        ]  # fmt: skip
        for mixed in itertools.permutations(order):
            self.assertEqual([each.id for each in first_to_expire(mixed)], ["open", "closed", "later", "none", "frozen"])

    def test_sums_by_product_and_place_leave_out_what_must_be_thrown_away(self) -> None:
        held = [
            _held("a", date(2026, 3, 9), dose_g=15.0), _held("b", date(2026, 3, 7), dose_g=15.0), _held("c", None, frozen=True, dose_g=15.0),
            _held("d", date(2026, 3, 10), mass_g=44.0, dose_g=15.0, rest=True), _held("e", date(2026, 3, 10), place="kiln", dose_g=None),
        ]  # fmt: skip
        kiln, kitchen = sorted(on_hand(held, self.today), key=lambda each: each.place or "")
        # 500 g are 33 doses of 15 g and 44 g are two: what is left in one bottle does not make up a dose with the next.
        self.assertEqual((kitchen.containers, kitchen.mass_g, kitchen.doses, kitchen.throw, kitchen.frozen_g), (2, 544, 35, 1, 500))
        self.assertEqual(kitchen.first, date(2026, 3, 9))
        self.assertEqual((kiln.containers, kiln.rests, kiln.doses), (1, 0, None))
        self.assertEqual(kitchen.rests, 1)
