"""The app's own files: whole, in part, or not again."""

from __future__ import annotations

import tempfile
from pathlib import Path

from django.http import HttpRequest, HttpResponse
from django.test import RequestFactory, SimpleTestCase, override_settings

from jugserver.config.static_files import StaticFiles


def _elsewhere(_: HttpRequest) -> HttpResponse:
    return HttpResponse("another view", status=404)


class Files(SimpleTestCase):
    def setUp(self) -> None:
        self.home = Path(self.enterContext(tempfile.TemporaryDirectory()))
        (self.home / "first.js").write_text("0123456789", encoding="utf-8")
        with override_settings(STATIC_ROOT=str(self.home), STATIC_URL="/static/", WHITENOISE_AUTOREFRESH=False, WHITENOISE_USE_FINDERS=False):
            self.files = StaticFiles(_elsewhere)

    def get(self, path: str = "/static/first.js", method: str = "GET", **headers: str) -> HttpResponse:
        answer = self.files(RequestFactory().generic(method, path, headers=headers))
        assert isinstance(answer, HttpResponse)
        return answer

    def test_whole_in_part_and_not_again(self) -> None:
        whole = self.get()
        self.assertFalse(whole.streaming)  # which the server would complain of, and be held up by
        self.assertEqual((whole.status_code, whole.content, whole["Content-Length"]), (200, b"0123456789", "10"))
        self.assertIn("javascript", whole["Content-Type"])
        part = self.get(range="bytes=2-4")
        self.assertEqual((part.status_code, part.content, part["Content-Range"]), (206, b"234", "bytes 2-4/10"))
        self.assertEqual(self.get(range="bytes=20-").status_code, 416)
        known = (
            self.get(**{"if-none-match": whole["ETag"]}) if whole.has_header("ETag") else self.get(**{"if-modified-since": whole["Last-Modified"]})
        )
        self.assertEqual((known.status_code, known.content), (304, b""))
        head = self.get(method="HEAD")
        self.assertEqual((head.status_code, head.content, head["Content-Length"]), (200, b"", "10"))
        self.assertEqual(self.get(method="POST").status_code, 405)
        self.assertEqual(self.get("/static/none.js").status_code, 404)
