"""A site's days begin at its own midnight: what was made on, the last day, lists; and no request leaves its time to the next."""

from __future__ import annotations

import json
from datetime import UTC, date, datetime
from typing import Any
from unittest import mock
from zoneinfo import ZoneInfo

from django.utils import timezone

from jugcore.batch.log.events import Event
from jugserver.accounts.site_time import in_time_of, zone_of
from jugserver.batches.log import append
from jugserver.batches.models import Batch
from jugserver.batches.states import _read_anew, keep_state
from jugserver.batches.tests.kitchen import begun_batch, entry
from jugserver.config.tests.shop import ShopCase
from jugserver.stock.models import Container, Place

#: Half past eleven in the morning by UTC: past midnight in one of these, and the evening before in none.
AT = datetime(2026, 5, 4, 11, 30, tzinfo=UTC)


class SiteTime(ShopCase):
    def setUp(self) -> None:
        super().setUp()
        self.lead = self.signed_in("lead")
        Place.objects.create(site=self.site, name="Kitchen", kitchen=True)

    def save(self, zone: str, status: int = 200) -> Any:
        now = json.loads(self.lead.get("/api/v1/business").content)
        answer = self.send(self.lead, "PUT", "/api/v1/business", {**now, "business": {**now["business"], "time_zone": zone}})
        self.assertEqual(answer.status_code, status, answer.content[:300])
        return json.loads(answer.content)

    def test_it_is_kept_checked_and_of_the_machine_until_somebody_says(self) -> None:
        self.assertEqual(zone_of(self.site), timezone.get_default_timezone())
        self.assertEqual(self.save("Pacific/Auckland")["business"]["time_zone"], "Pacific/Auckland")
        self.site.refresh_from_db()
        self.assertEqual(zone_of(self.site), ZoneInfo("Pacific/Auckland"))
        self.assertIn("No time zone is called", self.save("Nowhere/Weir", 422)["problems"][0]["message"])
        self.assertEqual(self.save("")["business"]["time_zone"], "")
        self.site.time_zone = "Was/Known"  # a name this machine has no more is no reason to answer nothing
        self.assertEqual(zone_of(self.site), timezone.get_default_timezone())

    def test_a_day_is_that_of_the_site_in_requests_and_beside_them(self) -> None:
        self.save("Pacific/Auckland")
        self.site.refresh_from_db()
        batch = begun_batch(self.people["lead"], "weir-simple", at=AT)
        fill = {"kind": "bottled", "stage": "fill", "count": 1, "each_g": 420.0}
        append(actor=self.people["lead"], batch_id=batch.pk, events=[Event.model_validate(entry(fill, by="lead"))])
        with mock.patch("jugserver.stock.fills._long_ago", return_value=False):
            _read_anew(batch.pk)
        self.assertEqual(Container.objects.get(batch=batch).made_on, date(2026, 5, 4))
        evening = begun_batch(self.people["lead"], "weir-simple", at=AT.replace(hour=12, minute=30))
        append(actor=self.people["lead"], batch_id=evening.pk, events=[Event.model_validate(entry(fill, by="lead"))])
        with mock.patch("jugserver.stock.fills._long_ago", return_value=False), in_time_of(self.site):
            keep_state(Batch.objects.in_full().get(pk=evening.pk))
        self.assertEqual(Container.objects.get(batch=evening).made_on, date(2026, 5, 5), "half past midnight there")

    def test_no_request_leaves_its_time_to_the_next(self) -> None:
        self.save("Pacific/Auckland")
        self.lead.get("/api/v1/batches")
        self.assertEqual(timezone.get_current_timezone(), timezone.get_default_timezone())
        self.lead.get("/api/v1/formulas/nonsense")
        self.assertEqual(timezone.get_current_timezone(), timezone.get_default_timezone())

    def test_last_days_are_read_anew_when_it_changes(self) -> None:
        batch = begun_batch(self.people["lead"], "weir-simple", at=timezone.now())
        keep_state(Batch.objects.in_full().get(pk=batch.pk))
        self.assertFalse(Batch.objects.get(pk=batch.pk).behind)
        with mock.patch("jugserver.batches.states.read_by_and_by") as asked:
            self.save("Pacific/Auckland")
        self.assertTrue(Batch.objects.get(pk=batch.pk).behind)
        asked.assert_called()
