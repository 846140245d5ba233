"""What the app loads: a first script that is small, screens when they are opened, and what is said where one does not come."""

from __future__ import annotations

import gzip
import re

from e2e.browser import BrowserCase

#: What the first page may load of scripts, packed. [bytes]
FIRST_SCRIPT = 170_000


class Loading(BrowserCase):
    def test_the_first_script_is_small(self) -> None:
        request = self.page.request
        page = request.get(self.live_server_url + "/").text()
        scripts = set(re.findall(r'(?:src|href)="([^"]+\.js)"', page))
        self.assertTrue(scripts)
        packed = {path: len(gzip.compress(request.get(self.live_server_url + path).body(), 9)) for path in scripts}
        self.assertLessEqual(sum(packed.values()), FIRST_SCRIPT, packed)

    def test_screens_are_loaded_when_they_are_opened_and_the_rest_soon_after(self) -> None:
        page = self.page
        loaded: list[str] = []
        page.on("response", lambda answer: loaded.append(answer.url))
        page.clock.install()
        self.sign_in("ines", page)
        page.get_by_role("region", name="Recent").wait_for()
        self.assertFalse([url for url in loaded if "SiteScreen" in url or "HobScreen" in url])
        page.clock.fast_forward(5_000)
        with page.expect_response(re.compile("SiteScreen")):
            pass
        self.assertTrue([url for url in loaded if "HobScreen" in url])

    def test_a_screen_that_does_not_come_is_said_to_and_comes_with_a_reload(self) -> None:
        page = self.page
        self.allowed = ["ERR_FAILED", "Failed to fetch dynamically imported module", "Unable to preload", "The above error", "React will try"]
        self.sign_in("ines", page)
        page.get_by_role("region", name="Recent").wait_for()
        page.route(re.compile("CalculatorsScreen"), lambda route: route.abort())
        page.get_by_role("navigation", name="Main").get_by_role("link", name="Calculators", exact=True).click()
        page.get_by_text("This screen could not be loaded").wait_for()
        self.go_to("Formulas", page)
        page.get_by_role("navigation", name="Main").get_by_role("link", name="Calculators", exact=True).click()
        page.get_by_text("This screen could not be loaded").wait_for()
        page.unroute(re.compile("CalculatorsScreen"))
        page.get_by_role("button", name="Reload").click()
        page.get_by_role("heading", name="Calculators", level=1).wait_for()
