"""The engine from a shell, the published schemas, and that the core keeps to itself."""

from __future__ import annotations

import doctest
import importlib
import json
import pkgutil
import signal
import subprocess
import sys
import unittest
from pathlib import Path

import jugcore
from jugcore.tests.shell import run
from jugcore.tests.test_readings import EXAMPLES, example
from jugcore.tests.test_stages import boil, syrup

SCHEMAS = Path(__file__).resolve().parents[2] / "docs" / "schema"


class Shell(unittest.TestCase):
    def test_walk_prints_the_report(self) -> None:
        code, out, _ = run(["walk"], json.dumps(example("ferrymans-spice")))
        self.assertEqual(code, 0)
        found = json.loads(out)
        brix = next(r for r in found["readings"] if r["id"] == "brix")
        self.assertAlmostEqual(brix["value"], 64.0, places=6)

    def test_given_figures_replace_the_documents(self) -> None:
        document = json.dumps(example("ferrymans-spice"))
        code, out, _ = run(["walk", "--given", "stages.boil.brix=60", "--given", "lines.juice.grams=500"], document)
        found = json.loads(out)
        self.assertEqual(code, 0)
        self.assertAlmostEqual(next(r for r in found["readings"] if r["id"] == "brix")["value"], 60.0, places=6)
        self.assertEqual(next(x for x in found["lines"] if x["id"] == "water")["mass_g"], 500.0)
        for wrong in ("nonsense", "lines.juice.grams=lots", "lines.rum.grams=3", "stages.boil.colour=2"):
            code, out, err = run(["walk", "--given", wrong], document)
            with self.subTest(given=wrong):
                self.assertEqual((code, out), (2, ""))
                self.assertTrue(json.loads(err)["problems"][0]["field"].startswith("given."))

        _, out, _ = run(["walk", "--given", "lines.juice.grams=-3"], document)
        self.assertEqual(json.loads(out)["faults"][0]["field"], "lines.juice.grams")

    def test_aim_and_read_print_what_the_server_would(self) -> None:
        benchmark = {"name": "Theirs", "label": {"kind": "syrup", "figures": {"sugars": "60"}}}
        code, out, _ = run(["aim"], json.dumps({"benchmark": benchmark, "document": example("weir-simple")}))
        found = json.loads(out)
        self.assertEqual((code, found["solution"]["status"], found["names"][0]), (0, "solved", "Theirs"))
        code, out, err = run(["aim"], json.dumps({"benchmark": benchmark}))
        self.assertEqual((code, out, json.loads(err)["problems"][0]["field"]), (2, "", "document"))
        code, out, _ = run(["read", "--name", "a.txt"], "900 g water\n")
        self.assertEqual((code, json.loads(out)["formulas"][0]["rows"][0]["words"]), (0, "900 g water"))
        code, out, err = run(["read"], "{")
        self.assertEqual((code, json.loads(err)["problems"][0]["field"]), (2, "file"))

    def test_a_reader_that_stops_reading_ends_it_without_a_word(self) -> None:
        command = [sys.executable, "-m", "jugcore", "schema", "document", "report", "batch", "sheet"]
        with subprocess.Popen(command, cwd=SCHEMAS.parents[1], stdout=subprocess.PIPE, stderr=subprocess.PIPE) as process:
            assert process.stdout is not None and process.stderr is not None
            process.stdout.read(10)
            process.stdout.close()
            self.assertEqual(process.stderr.read(), b"")
        self.assertEqual(process.returncode, -signal.SIGPIPE)

    def test_what_came_in_is_accounted_for_component_by_component(self) -> None:
        for path in sorted(EXAMPLES.glob("*.json")):
            _, out, _ = run(["walk"], path.read_text(encoding="utf-8"))
            matter = json.loads(out)["matter"]
            places = [*matter["vessels"].values(), *matter["away"].values()]
            self.assertGreater(sum(matter["came_in"].values()), 100)
            for name, grams in matter["came_in"].items():
                with self.subTest(example=path.stem, component=name):
                    self.assertAlmostEqual(sum(place.get(name, 0.0) for place in places), grams, delta=1e-9 * grams)

    def test_refusals_are_json_with_a_field(self) -> None:
        for text, field in (("{", "document"), ("[]", "document"), (json.dumps(syrup(50, 100, boil("brix", 101))), "stages.boil.until.brix")):
            code, out, err = run(["walk"], text)
            self.assertEqual((code, out), (2, ""))
            problem = json.loads(err)["problems"][0]
            self.assertEqual(problem["field"], field)
            self.assertTrue(problem["message"] and problem["remedy"])

    def test_published_schemas_are_those_of_the_code(self) -> None:
        for what, file in (
            ("document", "method"),
            ("report", "report"),
            *((w, w) for w in ("solve-request", "solve", "suggestions", "scale-request", "scale")),
        ):
            with self.subTest(schema=what):
                _, out, _ = run(["schema", what])
                self.assertEqual(out, (SCHEMAS / f"{file}.schema.json").read_text(encoding="utf-8"))

    def test_a_drink_and_its_doses(self) -> None:
        text = (EXAMPLES / "drinks" / "ferry-latte.json").read_text(encoding="utf-8")
        code, out, _ = run(["drink"], text)
        found = json.loads(out)
        self.assertEqual((code, [size["name"] for size in found["sizes"]], found["faults"]), (0, ["Short", "Regular", "Long", "Iced"], []))
        code, out, _ = run(["drink", "--even-out", "dose"], text)
        self.assertEqual((code, json.loads(out)["component"]), (0, "dose"))
        code, _, err = run(["drink", "--even-out", "milk"], text)
        self.assertEqual((code, json.loads(err)["problems"][0]["field"]), (2, "component"))

    def test_examples_say_their_format(self) -> None:
        for path in EXAMPLES.glob("*.json"):
            self.assertEqual(json.loads(path.read_text(encoding="utf-8"))["format"], "oakenjug.method/2")


class Manners(unittest.TestCase):
    def test_docstring_examples_hold(self) -> None:
        tried = 0
        for module in pkgutil.walk_packages(jugcore.__path__, "jugcore."):
            if ".tests" in module.name or module.name.endswith("__main__"):
                continue
            result = doctest.testmod(importlib.import_module(module.name))
            self.assertEqual(result.failed, 0, module.name)
            tried += result.attempted
        self.assertGreater(tried, 15)

    def test_public_physics_states_formula_range_source_or_accuracy(self) -> None:
        for module in pkgutil.walk_packages(["jugcore/physics"], "jugcore.physics."):
            loaded = importlib.import_module(module.name)
            for name, thing in vars(loaded).items():
                if callable(thing) and not name.startswith("_") and getattr(thing, "__module__", "") == module.name:
                    words = thing.__doc__ or ""
                    with self.subTest(function=f"{module.name}.{name}"):
                        self.assertRegex(words, r"Formula:|definition, exact|Enthalpy|Temperature at which|Boiling point of")
                        self.assertRegex(words, r"\[|°C|grams|Raises")

    def test_nothing_reads_the_clock_or_the_network(self) -> None:
        for path in Path("jugcore").rglob("*.py"):
            if "tests" in path.parts:
                continue
            text = path.read_text(encoding="utf-8")
            for word in ("import time", "import random", "datetime.now", "utcnow", ".today(", "urllib", "import socket", "np.random", "os.environ"):
                self.assertNotIn(word, text, path)


if __name__ == "__main__":
    unittest.main()
