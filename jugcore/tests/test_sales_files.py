"""Files of sales as tills write them: dates, counts, columns, names, and that nothing is guessed silently."""

from __future__ import annotations

import base64
import csv
import unittest
import zipfile
from datetime import date, datetime, timedelta
from io import BytesIO, StringIO

from hypothesis import given, settings
from hypothesis import strategies as st

from jugcore.errors import BadDocument, DomainError
from jugcore.planning.sales.columns import Columns, guess
from jugcore.planning.sales.names import KnownDrink, Meant, Names, item_key
from jugcore.planning.sales.read import Sales, read_sales
from jugcore.planning.sales.report import KnownDrinkIn, LayoutIn, MeantIn, SalesAsk, SalesReport, read_file
from jugcore.planning.sales.table import MOST_BYTES, read_table
from jugcore.planning.sales.values import Order, count_of, day_of, order_of

TODAY = date(2031, 6, 1)
SIZES = (("s", "Short"), ("r", "Regular"), ("l", "Long"))
DRINKS = (KnownDrink("d1", "Ferry Latte", SIZES), KnownDrink("d2", "Ferry Latte Iced", (("i", "Iced"),)), KnownDrink("d3", "Tannery Mocha", SIZES))
NAMES = Names(DRINKS, (("1", "Kiln Lane"), ("2", "Weir Bridge")), {}, {})


def read(text: str, names: Names = NAMES, **columns: object) -> Sales:
    table = read_table("a.csv", text.encode())
    found = guess(table, ["Short", "Regular", "Long", "Iced"], ["Kiln Lane", "Weir Bridge"]).model_copy(update=columns)
    return read_sales(table, found, names, TODAY)


class Values(unittest.TestCase):
    def test_days(self) -> None:
        for cell, order, wanted in (
            ("2031-05-24", None, date(2031, 5, 24)), ("24.5.2031", None, date(2031, 5, 24)), ("5/24/2031", None, date(2031, 5, 24)),
            ("3/4/2031", "day first", date(2031, 4, 3)), ("3/4/2031", "month first", date(2031, 3, 4)), ("4/4/31", None, date(2031, 4, 4)),
            ("2031-05-24T17:05:00", None, date(2031, 5, 24)), ("24/05/2031 17:05", None, date(2031, 5, 24)), ("24 May 2031", None, date(2031, 5, 24)),
            ("Sat, 24 May 2031", None, date(2031, 5, 24)), ("May 24th, 2031", None, date(2031, 5, 24)), (date(2031, 5, 24), None, date(2031, 5, 24)),
            (datetime(2031, 5, 24, 9, 0), None, date(2031, 5, 24)), (47992.0, None, date(2031, 5, 24)),
        ):  # fmt: skip
            with self.subTest(cell):
                self.assertEqual(day_of(cell, order), wanted)  # type: ignore[arg-type]

    def test_what_is_no_day(self) -> None:
        for cell in ("3/4/2031", "31.2.2031", "", None, "Total", 12.0, "2031-13-01", "24 Mai2 2031", "99/99/2031"):
            with self.subTest(cell), self.assertRaises(DomainError):
                day_of(cell, None)

    def test_one_day_that_shows_the_order_shows_it_for_all(self) -> None:
        wanted: tuple[tuple[list[str], tuple[Order | None, bool]], ...] = (
            (["3/4/2031", "24/4/2031"], ("day first", False)), (["3/4/2031", "4/24/2031"], ("month first", False)), (["3/4/2031"], (None, True)),
            (["24/4/2031", "4/24/2031"], (None, False)), (["2031-04-03"], (None, False)),
        )  # fmt: skip
        for cells, found in wanted:
            self.assertEqual(order_of(cells), found)

    def test_counts(self) -> None:
        for cell, wanted in (
            ("12", 12), ("1,234", 1234), ("1.234", 1234), ("1 234", 1234), ("1'234", 1234), ("12.0", 12), ("12,0", 12), ("-3", -3), ("−3", -3),
            ("(3)", -3), ("", 0), (None, 0), ("-", 0), (12.0, 12),
        ):  # fmt: skip
            with self.subTest(cell):
                self.assertEqual(count_of(cell), wanted)
        for cell in ("12.5", "18,5", "twelve", "1,23,4", 0.5, "1e9", "€3", 200_000.0):
            with self.subTest(cell), self.assertRaises(DomainError):
                count_of(cell)


class Files(unittest.TestCase):
    LONG = "Day,Place,Item,Size,Sold\n2031-05-24,Kiln Lane,Ferry Latte,Regular,12\n2031-05-24,Weir Bridge,Tannery Mocha,Long,3\n"

    def test_long(self) -> None:
        sales = read(self.LONG)
        self.assertEqual(sales.counts, {(date(2031, 5, 24), "1", "d1", "r"): 12, (date(2031, 5, 24), "2", "d3", "l"): 3})
        self.assertEqual(sales.covered, {(date(2031, 5, 24), "1"), (date(2031, 5, 24), "2")})
        self.assertTrue(sales.whole)

    def test_a_title_above_and_another_separator(self) -> None:
        sales = read("Weekly export\n\nBusiness date;Where;Product;Short;Regular;Long\n24.5.2031;Kiln Lane;Ferry Latte;8;12;\n", spread="size")
        self.assertEqual(sales.counts, {(date(2031, 5, 24), "1", "d1", "s"): 8, (date(2031, 5, 24), "1", "d1", "r"): 12})

    def test_days_as_columns_and_all_at_one_place(self) -> None:
        sales = read("Item,2031-05-24,2031-05-25\nFerry Latte Regular,12,0\nTannery Mocha (Long),1,2\n", place_id="2")
        self.assertEqual(sales.counts[date(2031, 5, 25), "2", "d3", "l"], 2)
        self.assertEqual(sales.counts[date(2031, 5, 25), "2", "d1", "r"], 0)

    def test_tickets_are_counted_and_what_was_given_back_is_taken_off(self) -> None:
        tickets = (
            "Timestamp,Place,Item,Size,Qty\n" + "2031-05-24 09:12,Kiln Lane,Ferry Latte,R,2\n" * 3 + "2031-05-24 10:00,Kiln Lane,Ferry Latte,R,-1\n"
        )
        self.assertEqual(read(tickets).counts, {(date(2031, 5, 24), "1", "d1", "r"): 5})
        back = read("Day,Place,Item,Size,Sold\n2031-05-24,Kiln Lane,Ferry Latte,R,-2\n")
        self.assertEqual(back.wrong, 1)
        self.assertFalse(back.whole)

    def test_the_longer_name_is_meant(self) -> None:
        self.assertEqual(NAMES.item("Ferry Latte Iced", ""), Meant("d2", "i"))
        self.assertEqual(NAMES.item("ferry latte - REGULAR", ""), Meant("d1", "r"))
        self.assertEqual(NAMES.item("Ferry Latte", ""), Meant("d1", ""))
        self.assertEqual(NAMES.item("Flat white", "Regular"), Meant())

    def test_wrong_rows_are_told_with_their_number(self) -> None:
        sales = read(
            self.LONG
            + "2031-05-25,Kiln Lane,Ferry Latte,Regular,a few\nTotal,,,,15\n2031-06-02,Kiln Lane,Ferry Latte,Regular,3\n2020-01-01,Kiln Lane,Ferry Latte,Regular,3\n"
        )
        self.assertEqual([each.row for each in sales.problems], [4, 5, 6, 7])
        self.assertEqual(sales.wrong, 4)
        self.assertTrue(all(each.message and each.remedy for each in sales.problems))
        self.assertEqual(len(sales.counts), 2)

    def test_what_nobody_said_is_asked_and_what_was_said_is_kept(self) -> None:
        text = self.LONG + "2031-05-24,Kiln Lane 2,Ferry Latte,Regular,9\n2031-05-24,Kiln Lane,Croissant,,12\n"
        sales = read(text)
        self.assertEqual([each.drink for each in sales.items.values()], ["Croissant"])
        self.assertEqual(list(sales.places), ["Kiln Lane 2"])
        said = Names(DRINKS, NAMES.places, {item_key("Croissant", ""): Meant(left_out=True)}, {"kiln lane 2": "1"})
        again = read(text, said)
        self.assertTrue(again.whole)
        self.assertEqual(again.left_out, 1)
        self.assertEqual(again.counts[date(2031, 5, 24), "1", "d1", "r"], 21)

    def test_columns_that_are_missing_are_asked_for(self) -> None:
        for text, field in (
            ("Item,Sold\nFerry Latte,3\n", "columns.day"), ("Day,Sold\n2031-05-24,3\n", "columns.drink"),
            ("Day,Item,Sold\n2031-05-24,Ferry Latte,3\n", "columns.place"),
        ):  # fmt: skip
            with self.subTest(field), self.assertRaises(BadDocument) as raised:
                read(text)
            self.assertEqual(raised.exception.field, field)

    def test_what_is_no_table(self) -> None:
        for data in (b"", b"   \n\n", b"Day,Item\n", b"\x00\x01\x02", b"PK\x03\x04 no workbook", b"x" * (MOST_BYTES + 1), b"\xff\xfe"):
            with self.subTest(data[:12]), self.assertRaises(BadDocument):
                read_table("file", data)

    def test_a_workbook_that_unpacks_to_too_much(self) -> None:
        out = BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as whole:
            whole.writestr("xl/worksheets/sheet1.xml", b"0" * 130_000_000)
        with self.assertRaises(BadDocument) as raised:
            read_table("bomb.xlsx", out.getvalue())
        self.assertIn("unpacks", raised.exception.message)

    def test_a_workbook(self) -> None:
        from openpyxl import Workbook

        book = Workbook()
        sheet = book.active
        assert sheet is not None
        book.create_sheet("Empty")
        for row in (
            ["Sold on", "Where", "Item", "Qty"],
            [datetime(2031, 5, 24), "Kiln Lane", "Ferry Latte Regular", 12],
            [47992, "Kiln Lane", "Tannery Mocha Long", 3],
        ):
            sheet.append(row)
        out = BytesIO()
        book.save(out)
        table = read_table("sold.xlsx", out.getvalue())
        sales = read_sales(table, guess(table, [], ["Kiln Lane"]), NAMES, TODAY)
        self.assertEqual(sales.counts, {(date(2031, 5, 24), "1", "d1", "r"): 12, (date(2031, 5, 24), "1", "d3", "l"): 3})

    @settings(max_examples=60, deadline=None)
    @given(
        st.dictionaries(
            st.tuples(st.integers(0, 60), st.sampled_from("12"), st.sampled_from(["d1", "d3"]), st.sampled_from("srl")),
            st.integers(0, 400),
            min_size=2,
            max_size=30,
        )
    )
    def test_long_and_wide_say_the_same(self, counts: dict[tuple[int, str, str, str], int]) -> None:
        """The same counts, a row each or a column a size, in any of three ways to write days, read the same."""
        places, drinks = dict(NAMES.places), {drink.id: drink.name for drink in DRINKS}
        wanted = {(TODAY - timedelta(days=ago), place, drink, size): float(count) for (ago, place, drink, size), count in counts.items()}
        for form in ("%Y-%m-%d", "%d.%m.%Y", "%d %b %Y"):
            long, wide = StringIO(), StringIO()
            writer = csv.writer(long)
            writer.writerow(["Date", "Shop", "Product", "Variant", "Quantity"])
            rows: dict[tuple[date, str, str], dict[str, float]] = {}
            for (on, place, drink, size), count in wanted.items():
                writer.writerow([on.strftime(form), places[place], drinks[drink], dict(SIZES)[size], int(count)])
                rows.setdefault((on, place, drink), {})[size] = count
            writer = csv.writer(wide, delimiter=";")
            writer.writerow(["Date", "Shop", "Product", "Short", "Regular", "Long"])
            for (on, place, drink), sizes in rows.items():
                writer.writerow([on.strftime(form), places[place], drinks[drink], *(int(sizes[size]) if size in sizes else "" for size, _ in SIZES)])
            for text in (long.getvalue(), wide.getvalue()):
                self.assertEqual(read(text, order="day first").counts, wanted)


class Reported(unittest.TestCase):
    def ask(self, text: str, **more: object) -> SalesReport:
        return read_file(SalesAsk.model_validate({
            "name": "a.csv", "base64": base64.b64encode(text.encode()).decode(), "today": TODAY, "places": {"1": "Kiln Lane", "2": "Weir Bridge"},
            "drinks": [KnownDrinkIn(id=each.id, name=each.name, sizes=dict(each.sizes)) for each in DRINKS], **more,
        }))  # fmt: skip

    def test_columns_are_remembered_for_files_with_the_same_headings(self) -> None:
        text = "A,B,C\n2031-05-24,Ferry Latte Regular,12\n"
        columns = Columns(day="A", drink="B", count="C", place_id="1")
        report = self.ask(text, layouts=[LayoutIn(labels=("C", "A", "B"), columns=columns)])
        self.assertTrue(report.remembered)
        self.assertEqual([(each.place, each.count) for each in report.counts], [("1", 12)])
        self.assertFalse(
            self.ask("A,B,D\n2031-05-24,Ferry Latte Regular,12\n", layouts=[LayoutIn(labels=("C", "A", "B"), columns=columns)]).remembered
        )

    def test_what_is_open_is_said_and_no_error(self) -> None:
        report = self.ask("Day,Item,Sold\n2031-05-24,Ferry Latte Regular,3\n")
        self.assertIn("where", report.lacking)
        self.assertEqual(report.lacking_field, "columns.place")
        report = self.ask("Day,Place,Item,Sold\n3/4/2031,Kiln Lane,Ferry Latte Regular,3\n")
        self.assertTrue(report.ask_order)
        report = self.ask("Day,Place,Item,Sold\n2031-05-24,Kiln Lane,Iced Ferry Latte,3\n")
        self.assertEqual(report.items[0].meant, "d1")
        said = {item_key("Iced Ferry Latte", ""): MeantIn(drink="d2", size="i")}
        report = self.ask("Day,Place,Item,Sold\n2031-05-24,Kiln Lane,Iced Ferry Latte,3\n", items=said)
        self.assertEqual([(each.drink, each.size) for each in report.counts], [("d2", "i")])

    def test_a_file_that_did_not_arrive_whole(self) -> None:
        with self.assertRaises(BadDocument):
            read_file(SalesAsk(base64="%%%", today=TODAY))
