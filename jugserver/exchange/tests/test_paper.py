"""Labels and run sheets, read back from the PDF: what stands on them, and where to half a millimetre."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from io import BytesIO
from typing import Any
from unittest.mock import patch

from django.test import SimpleTestCase
from pypdf import PdfReader
from reportlab.lib.units import mm

from jugserver.exchange.label import BOLD_BOXES, LAYOUTS, LEAST_PT, OPENED_WORDS, Label, Opened, Size, label_pdf, places_on_a4, sheets_of, texts
from jugserver.exchange.paper import BOLD, PLAIN, Box, drawable, lines_of, use_fonts
from jugserver.exchange.scripts import font_of, marked_up, runs, width_of

#: Printers are no better than this. [mm]
SLACK = 0.5
LABEL = Label(
    name="Ferryman's Spice", batch=147, made=date(2026, 3, 2), store="chilled", dose="20 g in a Regular", contains=("milk", "nuts"),
    may_contain=("sesame",), shared=("sesame",), list_name="14 EU allergens", address="https://127.0.0.2:8640/bottles/of/4f6c1d0e-0a6f-4b6e-9b39-6a3a4d9d7f10",
    use_by=date(2026, 3, 4), use_by_words="heat, packaging and pH not known",
)  # fmt: skip
LONG = replace(
    LABEL, name="Señora Ottílie's Extraordinarily Long Brown-Butter and Smoked-Tea Chicory Drizzle, second pressing",
    dose="two strokes of the eight-millilitre pump in a Short, three in a Regular, four in a Long, five in an Iced; never over the ice",
    contains=("cereals containing gluten", "milk", "nuts", "sesame seeds", "soybeans", "sulphur dioxide and sulphites"), may_contain=("peanuts", "eggs"),
)  # fmt: skip


OPENED: tuple[Opened, ...] = ("may_stand_out", "keep_chilled", "discard_four_hours")


def _written(pdf: bytes) -> tuple[list[tuple[float, float, str, float]], list[tuple[float, float, float, float]]]:
    """Every text with where it begins and its size, and every filled rectangle, of the first page. [mm]"""
    found: list[tuple[float, float, str, float]] = []
    boxes: list[tuple[float, float, float, float]] = []
    page = PdfReader(BytesIO(pdf)).pages[0]

    def text(words: str, cm: Any, tm: Any, font: Any, size: float) -> None:
        if words.strip():
            found.append((tm[4] / mm, tm[5] / mm, words.strip(), size))

    def operand(operator: bytes, operands: Any, cm: Any, tm: Any) -> None:
        if operator == b"re":
            x, y, width, height = (float(value) / mm for value in operands)
            boxes.append((x, y, width, height))

    page.extract_text(visitor_text=text, visitor_operand_before=operand)
    return found, boxes


class Labels(SimpleTestCase):
    def test_a_page_is_exactly_a_label_and_there_are_as_many_as_asked_for(self) -> None:
        for size, layout in LAYOUTS.items():
            pages = PdfReader(BytesIO(label_pdf(LABEL, size, 3))).pages
            self.assertEqual(len(pages), 3)
            self.assertAlmostEqual(float(pages[0].mediabox.width) / mm, layout.width, delta=0.01)
            self.assertAlmostEqual(float(pages[0].mediabox.height) / mm, layout.height, delta=0.01)

    def test_everything_stands_in_its_box(self) -> None:
        use_fonts()
        labels = [LABEL, LONG, *(replace(each, which="opened", opened=rule) for each in (LABEL, LONG) for rule in OPENED)]
        for size in LAYOUTS:
            for label in labels:
                with self.subTest(size=size, label=label.name, which=label.which, rule=label.opened):
                    sheet = sheets_of(label, size)[0]
                    self._inside(sheet.words, sheet.boxes, *_written(label_pdf(label, size)))

    def test_a_sheet_of_a4_has_as_many_as_fit_each_in_its_place(self) -> None:
        use_fonts()
        for size, layout in LAYOUTS.items():
            places = places_on_a4(layout)
            self.assertEqual(len(places), {"90x60": 8, "62x40": 21}[size])
            for x, y in places:
                self.assertTrue(x >= 5 and y >= 5 and x + layout.width <= 205 and y + layout.height <= 292, (x, y))
            pdf = label_pdf(LABEL, size, len(places) + 2, "a4")
            pages = PdfReader(BytesIO(pdf)).pages
            self.assertEqual(len(pages), 2)
            self.assertAlmostEqual(float(pages[0].mediabox.width) / mm, 210, delta=0.1)
            self.assertAlmostEqual(float(pages[0].mediabox.height) / mm, 297, delta=0.1)
            self.assertEqual(pages[1].extract_text().count("Ferryman"), 2)
            written, cells = _written(pdf)
            self.assertEqual(sum("Batch 0147" in words for _, _, words, _ in written), len(places))
            for x, y in places:
                here = Box(x, y, layout.width, layout.height)
                on_it = [(a, b, words, points) for a, b, words, points in written if here.holds(a, b)]
                dots = [(a, b, w, h) for a, b, w, h in cells if here.holds(a + w / 2, b + h / 2) and w < layout.width / 2]
                self._inside(texts(LABEL), {name: box.moved(x, y) for name, box in layout.boxes.items()}, on_it, dots)

    def _inside(self, wanted: dict[str, str], boxes: dict[str, Box], written: list[Any], cells: list[Any]) -> None:
        from reportlab.pdfbase.pdfmetrics import stringWidth

        for name, box in boxes.items():
            if name == "code" or not wanted[name]:
                continue
            inside = [(x, y, words, points) for x, y, words, points in written if box.holds(x, y, SLACK)]
            self.assertTrue(inside, name)
            joined = "".join(words for _, _, words, _ in inside).replace("…", "").replace(" ", "")
            self.assertTrue(drawable(wanted[name]).replace(" ", "").startswith(joined[:12]), (name, joined))
            font = BOLD if name in BOLD_BOXES else PLAIN
            for x, y, words, points in inside:
                self.assertTrue(box.holds(x + stringWidth(words, font, points) / mm, y + 0.76 * points / mm, SLACK), (name, words))
        code = boxes["code"]
        self.assertGreater(len(cells), 200)
        for x, y, width, height in cells:
            self.assertTrue(code.holds(x, y, SLACK) and code.holds(x + width, y + height, SLACK))

    def test_boxes_are_on_the_label_and_apart(self) -> None:
        for size, layout in LAYOUTS.items():
            page = Box(0, 0, layout.width, layout.height)
            for named in (list(layout.boxes.items()), list(layout.opened.items()), list(layout.second.items())):
                for i, (name, box) in enumerate(named):
                    self.assertTrue(page.holds(box.x, box.y) and page.holds(box.x + box.width, box.y + box.height), (size, name))
                    for other, beside in named[i + 1 :]:
                        apart = box.x + box.width <= beside.x + 1e-9 or beside.x + beside.width <= box.x + 1e-9
                        apart |= box.y + box.height <= beside.y + 1e-9 or beside.y + beside.height <= box.y + 1e-9
                        self.assertTrue(apart, (size, name, other))

    def test_what_a_label_must_say(self) -> None:
        text = PdfReader(BytesIO(label_pdf(LABEL))).pages[0].extract_text()
        for words in (
            "Ferryman's Spice",
            "Batch 0147",
            "Mon 02 Mar 2026",
            "Use by: Wed 04 Mar 2026, heat,",
            "Opened on",
            "Keep chilled",
            "Contains: milk, nuts",
            "sesame",
            "20 g in a Regular",
        ):
            self.assertIn(words, text)
        self.assertIn("Made on equipment that meets sesame.", " ".join(text.split()))
        none = texts(replace(LABEL, contains=(), may_contain=(), shared=()))["allergens"]
        self.assertEqual(none, "None of the 14 EU allergens in the formula.")

    def test_the_label_for_the_day_it_is_opened_states_one_thing(self) -> None:
        said = {}
        for rule in OPENED:
            text = " ".join(PdfReader(BytesIO(label_pdf(replace(LABEL, which="opened", opened=rule)))).pages[0].extract_text().split())
            said[rule] = text
            for words in ("Ferryman's Spice", "Batch 0147", "Opened on", "Never top up", "Contains: milk, nuts"):
                self.assertIn(words, text)
            self.assertEqual([other for other in OPENED if OPENED_WORDS[other] in text], [rule])
        self.assertIn("Left the cold at", said["discard_four_hours"])
        self.assertIn("your local rule", said["keep_chilled"])

    def test_letters_the_font_lacks_are_never_lost_silently(self) -> None:
        self.assertEqual(drawable("Főzet, Šárka, 20 °Bx 茶"), "Főzet, Šárka, 20 °Bx 茶")
        self.assertEqual(drawable("a\U0001f36fb\ue123"), "a□b□", "no font has a honey pot, and nobody a letter of one's own")
        with patch("jugserver.exchange.scripts._font", lambda path: None):
            font_of.cache_clear()
            self.assertEqual(drawable("Főzet 茶"), "Fozet □", "where no fonts are installed")
        font_of.cache_clear()

    def test_lines_keep_every_word_within_the_width(self) -> None:
        use_fonts()
        from reportlab.pdfbase.pdfmetrics import stringWidth

        text = "Extraordinarilylongunbreakableword and some that are not"
        for width in (30.0, 60.0, 200.0):
            lines = lines_of(text, PLAIN, 9, width)
            self.assertEqual("".join(lines).replace(" ", ""), text.replace(" ", ""))
            self.assertTrue(all(stringWidth(line, PLAIN, 9) <= width or len(line) == 1 for line in lines))


ALL_14 = (
    "celery", "cereals containing gluten", "crustaceans", "eggs", "fish", "lupin", "milk", "molluscs", "mustard", "nuts", "peanuts", "sesame", "soybeans",
    "sulphur dioxide and sulphites",
)  # fmt: skip


class NothingIsCut(SimpleTestCase):
    """Whatever a label has to say of allergens and of the last day stands on it whole, on a second one where the first has no room."""

    def printed(self, label: Label, size: Size, copies: int = 1) -> tuple[list[str], float]:
        """The text of each page, and the smallest letters there are."""
        pages = PdfReader(BytesIO(label_pdf(label, size, copies))).pages
        sizes: list[float] = []
        texts = [page.extract_text(visitor_text=lambda text, cm, tm, font, size: sizes.append(size) if text.strip() else None) for page in pages]
        return [" ".join(text.split()) for text in texts], min(sizes)

    def test_every_number_of_allergens_at_every_size(self) -> None:
        for size in LAYOUTS:
            for many in range(15):
                for which in ("made", "opened"):
                    label = replace(LONG, which=which, contains=ALL_14[:many], may_contain=ALL_14[many:], shared=ALL_14[::3])
                    with self.subTest(size=size, many=many, which=which):
                        pages, smallest = self.printed(label, size)
                        whole = texts(label)["allergens"]
                        self.assertIn(whole.replace(" ", ""), "".join(pages).replace(" ", ""))
                        self.assertGreaterEqual(smallest, LEAST_PT - 1e-6)
                        if len(pages) > 1:
                            self.assertIn("Allergens: see the second label.", pages[0])
                            self.assertIn("Batch 0147, label 2 of", pages[1])

    def test_a_short_one_needs_no_second(self) -> None:
        for size in LAYOUTS:
            self.assertEqual(len(sheets_of(LABEL, size)), 1)

    def test_what_went_in_and_nobody_knows_goes_on_as_many_labels_as_it_takes(self) -> None:
        unknown = tuple(f"an ingredient that somebody called by the {n}th long name" for n in range(40))
        label = replace(LABEL, unknown=unknown)
        pages, _ = self.printed(label, "62x40", 2)
        self.assertGreater(len(pages), 4)
        self.assertEqual(pages[: len(pages) // 2], pages[len(pages) // 2 :])
        said = "".join(page.split(f"of {len(pages) // 2} ", 1)[-1] for page in pages[1 : len(pages) // 2]).replace(" ", "")
        self.assertIn(texts(label)["allergens"].replace(" ", ""), said)

    def test_the_day_stays_where_its_words_do_not_fit(self) -> None:
        label = replace(LABEL, use_by_words="not known: " + ", ".join(f"whether the {n}th step was hot enough" for n in range(9)))
        pages, _ = self.printed(label, "62x40")
        self.assertIn("Use by: Wed 04 Mar 2026, see the second label.", pages[0])
        self.assertIn("8th step was hot enough", pages[1])

    def test_a_sheet_of_a4_has_the_second_beside_the_first(self) -> None:
        label = replace(LONG, contains=ALL_14)
        each = len(sheets_of(label, "62x40"))
        pages = PdfReader(BytesIO(label_pdf(label, "62x40", 21, "a4"))).pages
        self.assertEqual(len(pages), each)


class AnyScript(SimpleTestCase):
    NAMES = {
        "Greek": "Σιρόπι κανέλας", "Cyrillic": "Сироп корицы", "Vietnamese": "Đường quế đặc biệt", "Hebrew": "סירופ קינמון", "Thai": "ซอสโกโก",
        "Chinese": "肉桂糖浆", "Japanese": "シナモンシロップ", "Korean": "계피 시럽", "Georgian": "სიროფი", "Armenian": "Օշարակ",
    }  # fmt: skip

    def test_names_of_any_script_stand_on_the_label_as_they_are(self) -> None:
        for script, name in self.NAMES.items():
            for size in LAYOUTS:
                with self.subTest(script=script, size=size):
                    text = PdfReader(BytesIO(label_pdf(replace(LABEL, name=name), size))).pages[0].extract_text()
                    self.assertNotIn("□", text)
                    self.assertIn(name.replace(" ", ""), text.replace(" ", "").replace("\n", ""))

    def test_letters_that_join_are_joined(self) -> None:
        """Arabic letters change with their neighbours, Devanagari's are put together: set one by one they would be wider."""
        use_fonts()
        for name in ("شراب القرفة", "क्षीर", "हिन्दी शर्बत"):
            with self.subTest(name):
                self.assertEqual(drawable(name), name)
                self.assertEqual({run.font for run in runs(name, PLAIN) if run.text.strip()} & {PLAIN}, set())
                alone = sum(width_of(letter, PLAIN, 12) for letter in name)
                self.assertLess(width_of(name, PLAIN, 12), 0.97 * alone)

    def test_what_is_read_from_the_right_stands_so_among_other_words(self) -> None:
        placed = runs("Batch סירופ קינמון 12", PLAIN)
        self.assertEqual("".join(run.text for run in placed), "Batch סירופ קינמון 12")
        self.assertEqual([run.right_to_left for run in placed][:2], [False, True])

    def test_the_run_sheet_prints_them_too(self) -> None:
        for name in self.NAMES.values():
            marked = marked_up(drawable(name), PLAIN)
            self.assertNotIn("□", marked)
