"""Who may sign in, from where, and a tablet nobody was at for a while."""

from __future__ import annotations

import re
from datetime import timedelta

from django.utils import timezone
from playwright.sync_api import Page, expect

from e2e.browser import TABLET
from e2e.hob_case import HobCase
from jugserver.accounts.session_store import SessionStore
from jugserver.batches.models import LogEntry


class Accounts(HobCase):
    def left_alone(self, page: Page, minutes: float) -> None:
        """As if nobody had done anything at a page for so long."""
        key = next(cookie["value"] for cookie in page.context.cookies() if cookie.get("name") == "oakenjug_session")
        session = SessionStore(key)
        session["seen"] = (timezone.now() - timedelta(minutes=minutes)).isoformat()
        session.save()

    def test_a_tablet_nobody_was_at_stays_readable_and_a_pin_goes_on_with_what_was_entered(self) -> None:
        batch = self.begin_batch("Weir Simple")
        page = self.tablet(batch)
        page.get_by_role("button", name="All in as asked, not weighed here").wait_for()
        self.left_alone(page, 70)
        self.allowed = ["401"]
        page.get_by_role("button", name="All in as asked, not weighed here").click()
        dialog = page.get_by_role("dialog", name="Who is here?")
        expect(dialog).to_contain_text("Nobody was at this tablet for a while; Rafe Oduya was last.")
        self.assert_accessible(page)
        self.assertEqual(LogEntry.objects.filter(batch=batch).count(), 0)
        dialog.get_by_role("button", name="Only read").click()
        expect(page.get_by_role("status").filter(has_text="Locked after a pause. Type a PIN before anything is entered.")).to_be_visible()
        expect(page.get_by_role("heading", name="Weir Simple")).to_be_visible()
        self.press(page, "I am here")
        dialog.get_by_role("button", name="Mina Thorsen").click()
        self.show_pin(page, "3690")
        page.get_by_role("button", name="Mina Thorsen is cooking: somebody else").wait_for()
        # What he had pressed before he left stays his, though she sends it.
        self.settled(batch, 1)
        kept = LogEntry.objects.select_related("sent_by").filter(batch=batch).first()
        assert kept is not None
        self.assertEqual((kept.event["by"], kept.sent_by.username, kept.said_by), ("rafe", "mina", ""))

    def show_pin(self, page: Page, pin: str) -> None:
        page.get_by_role("dialog").get_by_role("textbox").fill(pin)
        page.get_by_role("dialog").get_by_role("textbox").press("Enter")

    def test_a_lead_lets_somebody_sign_in_no_more_and_again(self) -> None:
        cook = self.sign_in("mina", self.open(TABLET))
        desk = self.sign_in("ines", self.open((1280, 800)), "/site")
        sessions = desk.get_by_role("table", name="Who is signed in")
        expect(sessions.get_by_role("row").filter(has_text="Mina Thorsen")).to_have_count(1)
        people = desk.get_by_role("table", name="People and their PINs")
        row = people.get_by_role("row").filter(has_text="Mina Thorsen")
        row.get_by_role("button", name="Deactivate: Mina Thorsen").click()
        self.assert_accessible(desk)
        self.allowed = ["401"]
        row.get_by_role("button", name="Yes, deactivate: Mina Thorsen").click()
        expect(row).to_contain_text("deactivated")
        expect(sessions.get_by_role("row").filter(has_text="Mina Thorsen")).to_have_count(0)
        cook.goto(f"{self.live_server_url}/batches")
        expect(cook.get_by_role("button", name=re.compile("Sign in"))).to_be_visible()
        row.get_by_role("button", name="Reactivate: Mina Thorsen").click()
        expect(row).to_contain_text("prep cook")

    def test_a_session_elsewhere_is_ended(self) -> None:
        left = self.sign_in("rafe", self.open(TABLET))
        here = self.sign_in("rafe", self.open((1280, 800)), "/site")
        table = here.get_by_role("table", name="Where you are signed in")
        expect(table.get_by_role("row")).to_have_count(3)
        expect(table).to_contain_text("here")
        self.allowed = ["401"]  # what is open there hears of it within seconds
        table.get_by_role("button", name=re.compile("^End: Rafe Oduya")).click()
        expect(table.get_by_role("row")).to_have_count(2)
        left.reload()
        expect(left.get_by_role("button", name=re.compile("Sign in"))).to_be_visible()
        expect(here.get_by_role("heading", name="Site")).to_be_visible()


if __name__ == "__main__":
    import unittest

    unittest.main()
