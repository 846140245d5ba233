"""The machine's time zone, found by its name."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path
from unittest import mock

from django.test import SimpleTestCase

from jugserver.process.time_zone import machine_time_zone

NOWHERE = Path("/no-such-file")


class TimeZone(SimpleTestCase):
    def test_tz_comes_first_then_where_localtime_points_then_the_name(self) -> None:
        with tempfile.TemporaryDirectory() as scratch:
            zone = Path(scratch) / "zoneinfo" / "Europe" / "Athens"
            zone.parent.mkdir(parents=True)
            zone.touch()
            link, named = Path(scratch) / "localtime", Path(scratch) / "timezone"
            link.symlink_to(zone)
            named.write_text("Asia/Tokyo\n", encoding="utf-8")
            with mock.patch.dict(os.environ, {"TZ": ""}):
                self.assertEqual(machine_time_zone(link, named), "Europe/Athens")
                self.assertEqual(machine_time_zone(NOWHERE, named), "Asia/Tokyo")
            with mock.patch.dict(os.environ, {"TZ": ":America/Lima"}):
                self.assertEqual(machine_time_zone(link, named), "America/Lima")

    def test_what_is_unknown_is_utc(self) -> None:
        with tempfile.TemporaryDirectory() as scratch:
            named = Path(scratch) / "timezone"
            for text in ("", "Atlantis/Deep", "../../etc/passwd"):
                named.write_text(text, encoding="utf-8")
                with mock.patch.dict(os.environ, {"TZ": "no/zone"}):
                    self.assertEqual(machine_time_zone(NOWHERE, named), "UTC")
