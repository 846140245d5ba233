"""Sales that are imported, corrected, undone: nothing twice, nothing lost, and a till that is asked over HTTP."""

from __future__ import annotations

from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from threading import Thread
from typing import ClassVar

from django.db import DatabaseError, transaction
from django.test import override_settings

from jugserver.demo.till import address_of, listening
from jugserver.sales.models import SaleChange, SaleCount, SalesDay, SalesImport, SalesLayout, SoldName
from jugserver.sales.tests.shop import SoldCase
from jugserver.stock.models import Place


class Imported(SoldCase):
    def test_the_same_file_twice_changes_nothing(self) -> None:
        file = self.file(self.weeks(2))
        preview = self.ask("POST", "/api/v1/sales/read", file)
        self.assertTrue(preview["whole"])
        self.assertEqual((preview["added"], preview["changed"], preview["same"], preview["days"]), (14 * 6, 0, 0, 28))
        self.assertEqual(SaleCount.objects.count(), 0)
        made = self.ask("POST", "/api/v1/sales/import", file)
        self.assertEqual((made["added"], SaleCount.objects.count(), SalesDay.objects.count()), (84, 84, 28))
        again = self.ask("POST", "/api/v1/sales/import", {**file, "name": "copy.csv"})
        self.assertEqual((again["added"], again["changed"], again["same"]), (0, 0, 84))
        self.assertEqual((SalesImport.objects.count(), SaleChange.objects.count(), SaleCount.objects.count()), (1, 84, 84))
        sales = self.ask("GET", "/api/v1/sales")
        kiln = next(each for each in sales["places"] if each["name"] == "Kiln Lane")
        self.assertIsNone(kiln["cups"][-1])  # today
        self.assertIn(kiln["cups"][-2], (36, 54))

    def test_a_file_changes_what_it_says_otherwise_and_leaves_the_rest(self) -> None:
        self.ask("POST", "/api/v1/sales/import", self.file(self.weeks(2)))
        text = f"Day,Place,Item,Size,Sold\n{self.day(3)},Kiln Lane,Ferry Latte,Long,99\n"
        preview = self.ask("POST", "/api/v1/sales/read", self.file(text))
        self.assertEqual((preview["added"], preview["changed"], preview["same"]), (0, 1, 0))
        self.assertEqual(preview["changes"][0]["after"], 99)
        self.ask("POST", "/api/v1/sales/import", self.file(text))
        self.assertEqual(SaleCount.objects.filter(on=self.day(3), place=self.kiln).count(), 3)
        self.assertEqual(SaleCount.objects.get(on=self.day(3), place=self.kiln, drink=self.latte, size="long").count, 99)

    def test_what_was_corrected_by_hand_stays(self) -> None:
        file = self.file(self.weeks(2))
        self.ask("POST", "/api/v1/sales/import", file)
        said = {"on": str(self.day(3)), "place": self.kiln.pk, "drink": self.latte, "size": "long", "count": 55, "reason": "Till was down."}
        day = self.ask("POST", "/api/v1/sales/corrections", said)
        self.assertEqual([row["count"] for row in day["rows"] if row["by_hand"]], [55])
        preview = self.ask("POST", "/api/v1/sales/read", file)
        self.assertEqual((preview["changed"], preview["corrected"]), (1, 1))
        self.assertEqual(self.ask("POST", "/api/v1/sales/import", file)["changed"], 0)
        kept = SaleCount.objects.get(on=self.day(3), place=self.kiln, drink=self.latte, size="long")
        self.assertEqual(kept.count, 55)
        self.ask("POST", "/api/v1/sales/import", {**file, "over_corrections": True})
        kept.refresh_from_db()
        self.assertEqual((kept.by_hand, kept.count != 55), (False, True))
        log = self.ask("GET", "/api/v1/sales/corrections")
        self.assertEqual([(each["after"], each["reason"]) for each in log], [(55, "Till was down.")])

    def test_corrections_are_refused_where_they_cannot_be(self) -> None:
        said = {"on": str(self.day(3)), "place": self.kiln.pk, "drink": self.latte, "size": "long", "count": 55, "reason": "Why."}
        for change, status in (
            ({"on": str(self.day(-1))}, 422),
            ({"size": "huge"}, 422),
            ({"place": 10**6}, 404),
            ({"reason": ""}, 422),
            ({"count": -1}, 422),
        ):
            self.refused(status, "POST", "/api/v1/sales/corrections", {**said, **change})
        self.ask("POST", "/api/v1/sales/corrections", said)
        self.assertTrue(SalesDay.objects.filter(place=self.kiln, on=self.day(3)).exists())

    def test_an_import_is_undone_and_what_came_since_stays(self) -> None:
        first = self.ask("POST", "/api/v1/sales/import", self.file(self.weeks(2)))
        text = f"Day,Place,Item,Size,Sold\n{self.day(3)},Kiln Lane,Ferry Latte,Long,99\n{self.day(20)},Kiln Lane,Ferry Latte,Long,7\n"
        second = self.ask("POST", "/api/v1/sales/import", self.file(text))
        self.refused(422, "POST", f"/api/v1/sales/imports/{first['id']}/undo")
        before = SaleCount.objects.get(on=self.day(4), place=self.kiln, drink=self.latte, size="long").count
        said = {"on": str(self.day(4)), "place": self.kiln.pk, "drink": self.latte, "size": "long", "count": before + 1, "reason": "Counted."}
        self.ask("POST", "/api/v1/sales/corrections", said)
        self.ask("POST", f"/api/v1/sales/imports/{second['id']}/undo")
        self.assertNotEqual(SaleCount.objects.get(on=self.day(3), place=self.kiln, drink=self.latte, size="long").count, 99)
        self.assertFalse(SaleCount.objects.filter(on=self.day(20)).exists())
        self.assertFalse(SalesDay.objects.filter(on=self.day(20)).exists())
        self.ask("POST", f"/api/v1/sales/imports/{first['id']}/undo")
        self.assertEqual([(row.on, row.count) for row in SaleCount.objects.all()], [(self.day(4), before + 1)])
        self.refused(422, "POST", f"/api/v1/sales/imports/{first['id']}/undo")

    def test_columns_and_names_are_remembered(self) -> None:
        text = f"When,What,N\n{self.day(1)},Latte big,12\n{self.day(1)},Croissant,5\n"
        columns = {"day": "When", "drink": "What", "count": "N", "place_id": str(self.weir.pk)}
        items = [{"key": "latte big|", "drink": self.latte, "size": "long"}, {"key": "croissant|", "left_out": True}]
        self.refused(422, "POST", "/api/v1/sales/import", self.file(text))
        self.refused(422, "POST", "/api/v1/sales/import", self.file(text, columns=columns))
        self.assertEqual((SoldName.objects.count(), SalesLayout.objects.count()), (0, 0))
        made = self.ask("POST", "/api/v1/sales/import", self.file(text, columns=columns, items=items))
        self.assertEqual((made["added"], made["left_out"]), (1, 1))
        preview = self.ask("POST", "/api/v1/sales/read", self.file(text.replace(",12", ",13")))
        self.assertTrue(preview["whole"] and preview["remembered"])
        self.assertEqual(preview["changed"], 1)
        names = self.ask("GET", "/api/v1/sales/names")
        self.assertEqual([each["key"] for each in names], ["croissant|", "latte big|"])
        self.ask("DELETE", "/api/v1/sales/names?key=croissant|")
        self.assertEqual(len(self.ask("POST", "/api/v1/sales/read", self.file(text))["items"]), 1)

    def test_what_is_wrong_is_told_by_row_and_left_out_only_when_said(self) -> None:
        text = f"Day,Place,Item,Size,Sold\n{self.day(1)},Kiln Lane,Ferry Latte,Long,12\n{self.day(1)},Kiln Lane,Ferry Latte,Short,a few\n"
        preview = self.ask("POST", "/api/v1/sales/read", self.file(text))
        self.assertEqual([(each["row"], each["column"]) for each in preview["problems"]], [(3, "count")])
        self.refused(422, "POST", "/api/v1/sales/import", self.file(text))
        self.assertEqual(self.ask("POST", "/api/v1/sales/import", self.file(text, leave_wrong=True))["added"], 1)

    def test_names_of_another_site_are_refused(self) -> None:
        text = f"Day,Place,Item,Size,Sold\n{self.day(1)},Kiln Lane,Ferry Latte,Long,12\n"
        theirs = Place.objects.create(site=self.stranger.site, name="Theirs")
        for more in (
            {"columns": {"day": "Day", "drink": "Item", "size": "Size", "count": "Sold", "place_id": str(theirs.pk)}},
            {"places": [{"words": "Kiln Lane", "place": theirs.pk}]},
            {"items": [{"key": "x|", "drink": self.latte, "size": "huge"}]},
            {"columns": {"day": "Day", "drink": "Item", "count": "Sold", "place_id": "1 or 1"}},
        ):
            self.refused(422, "POST", "/api/v1/sales/read", self.file(text, **more))
        self.refused(422, "POST", "/api/v1/sales/read", {"name": "a", "base64": "%%%"})

    def test_the_log_of_changes_stays(self) -> None:
        self.ask("POST", "/api/v1/sales/import", self.file(self.weeks(1)))
        for attempt in (lambda: SaleChange.objects.update(after=1), lambda: SaleChange.objects.all().delete()):
            with self.assertRaises(DatabaseError), transaction.atomic():
                attempt()

    def test_days_unlike_others(self) -> None:
        first, last = str(self.day(-2)), str(self.day(-3))
        made = self.ask("POST", "/api/v1/sales/calendar", {"kind": "event", "name": " River  fair ", "first": first, "last": last, "times": 1.5})
        self.assertEqual([(each["name"], each["times"]) for each in made], [("River fair", 1.5)])
        for change in ({"last": str(self.day(5))}, {"name": " "}, {"kind": "closed"}, {"last": str(self.day(-500))}, {"times": 0}):
            self.refused(422, "POST", "/api/v1/sales/calendar", {"kind": "event", "name": "Fair", "first": first, "last": last, "times": 2, **change})
        id = made[0]["id"]
        self.ask("PUT", f"/api/v1/sales/calendar/{id}", {"kind": "closed", "first": first, "last": last, "place": self.kiln.pk})
        self.assertEqual([each["kind"] for each in self.ask("GET", "/api/v1/sales")["calendar"]], ["closed"])
        self.ask("DELETE", f"/api/v1/sales/calendar/{id}")
        self.refused(404, "DELETE", f"/api/v1/sales/calendar/{id}")


class _Odd(BaseHTTPRequestHandler):
    """A till that answers as no till should."""

    asked: ClassVar[list[str]] = []

    def do_GET(self) -> None:
        _Odd.asked.append(self.path)
        kind = self.path.partition("?")[0]
        if kind == "/elsewhere":
            self.send_response(302)
            self.send_header("Location", "/secret")
            self.end_headers()
            return
        self.send_response(500 if kind == "/broken" else 200)
        self.end_headers()
        if kind == "/large":
            self.wfile.write(b"x" * 2_000_000)
        if kind == "/secret":
            self.wfile.write(b"Day,Place,Item,Size,Sold\n")

    def log_message(self, format: str, *args: object) -> None:
        """Nothing."""


class Tills(SoldCase):
    def till(self, address: str, name: str = "Till") -> int:
        rows = self.ask("POST", "/api/v1/sales/tills", {"name": name, "address": address})
        return next(each["id"] for each in rows if each["name"] == name)

    def serve(self, server: ThreadingHTTPServer) -> ThreadingHTTPServer:
        Thread(target=server.serve_forever, daemon=True).start()
        self.addCleanup(server.server_close)
        self.addCleanup(server.shutdown)
        return server

    def test_the_simulated_till_is_fetched_from_shown_and_kept(self) -> None:
        server = self.serve(listening())
        Place.objects.create(site=self.site, name="Ferry Steps")
        till = self.till(address_of(server))
        file = self.ask("POST", f"/api/v1/sales/tills/{till}/fetch")
        preview = self.ask("POST", "/api/v1/sales/read", {**file, "origin": "till"})
        self.assertEqual(len(preview["labels"]), 5)
        unknown = {each["drink"] for each in preview["items"]}
        self.assertIn("Sesame Cloud", unknown)
        items = [{"key": each["key"], "left_out": True} for each in preview["items"]]
        made = self.ask("POST", "/api/v1/sales/import", {**file, "origin": "till", "items": items})
        self.assertGreater(made["added"], 500)
        self.assertIsNotNone(self.ask("GET", "/api/v1/sales/tills")[0]["fetched_at"])
        again = self.ask("POST", f"/api/v1/sales/tills/{till}/fetch")  # only the last days, in case they were not over
        self.assertLess(len(again["base64"]), len(file["base64"]) / 5)
        self.assertEqual(self.ask("POST", "/api/v1/sales/import", {**again, "origin": "till"})["changed"], 0)

    def test_a_till_says_what_is_wrong_with_a_question(self) -> None:
        import urllib.error
        import urllib.request

        server = self.serve(listening())
        for path, status in (("/", 404), ("/sold.csv?from=yesterday", 400)):
            with self.assertRaises(urllib.error.HTTPError) as raised:
                urllib.request.urlopen(address_of(server).replace("/sold.csv", path), timeout=5)
            self.assertEqual(raised.exception.code, status)

    def test_it_goes_nowhere_it_may_not(self) -> None:
        server = self.serve(ThreadingHTTPServer(("127.0.0.1", 0), _Odd))
        at = f"http://127.0.0.1:{server.server_address[1]}"
        _Odd.asked.clear()
        for n, path in enumerate(("/elsewhere", "/broken", "/large")):
            self.refused(422, "POST", f"/api/v1/sales/tills/{self.till(at + path, f'T{n}')}/fetch")
        self.assertFalse([path for path in _Odd.asked if path.startswith("/secret")])
        asked = len(_Odd.asked)
        with override_settings(TILL_HOSTS=["till.invalid"]):
            self.refused(422, "POST", f"/api/v1/sales/tills/{self.till(at + '/secret', 'T8')}/fetch")
        self.refused(422, "POST", f"/api/v1/sales/tills/{self.till('http://elsewhere.invalid/sold.csv', 'T9')}/fetch")
        self.assertEqual(len(_Odd.asked), asked)
        for address in ("file:///etc/passwd", "ftp://127.0.0.1/x", "gopher", "http://127.0.0.1/a b"):
            self.refused(422, "POST", "/api/v1/sales/tills", {"name": "Odd", "address": address})

    def test_names_once(self) -> None:
        till = self.till("http://127.0.0.1:1/a")
        self.refused(422, "POST", "/api/v1/sales/tills", {"name": "Till", "address": "http://127.0.0.1:1/b"})
        self.ask("PUT", f"/api/v1/sales/tills/{till}", {"name": "Other", "address": "http://127.0.0.1:1/b"})
        self.ask("DELETE", f"/api/v1/sales/tills/{till}")
        self.assertEqual(self.ask("GET", "/api/v1/sales/tills"), [])
        self.refused(404, "POST", f"/api/v1/sales/tills/{till}/fetch")
