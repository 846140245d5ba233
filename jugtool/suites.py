"""Every test, suite by suite, with times; CI runs the same."""

from __future__ import annotations

import json
import os
import re
import subprocess
import tempfile
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

from jugtool import debian, install, postgres
from jugtool.places import PYTHON, ROOT, WEB
from jugtool.say import Failed, say

#: Test files of the core that take about as long as all others together; measured one by one.
_LONG = frozenset(f"jugcore.tests.{name}" for name in ("test_solve", "test_walk_invariants", "test_mutated_documents"))
OPENAPI = ROOT / "docs" / "openapi.json"
TYPES = WEB / "src" / "api" / "schema.d.ts"
SCHEMAS = {name: ROOT / "docs" / "schema" / file for name, file in (
    ("document", "method.schema.json"), ("report", "report.schema.json"), ("solve-ask", "solve-ask.schema.json"),
    ("solve", "solve.schema.json"), ("ways", "ways.schema.json"), ("scale-ask", "scale-ask.schema.json"), ("scale", "scale.schema.json"),
    ("batch", "batch.schema.json"), ("sheet", "sheet.schema.json"), ("rescue", "rescue.schema.json"),
    ("benchmark", "benchmark.schema.json"), ("aim", "aim.schema.json"),
)}  # fmt: skip


@dataclass
class Count:
    """Tests (or checks) that passed and failed."""

    passed: int = 0
    failed: int = 0

    def __add__(self, other: Count) -> Count:
        return Count(self.passed + other.passed, self.failed + other.failed)


def _environment(**more: str) -> dict[str, str]:
    return {**os.environ, "PYTHONPATH": str(ROOT), "DJANGO_SETTINGS_MODULE": "jugserver.config.settings", "OAKENJUG_MODE": "test", **more}


def _check(name: str, command: list[str], *, cwd: Path = ROOT, env: dict[str, str] | None = None) -> Count:
    """One command that must succeed, as one check."""
    done = subprocess.run(command, cwd=cwd, env=env or _environment(), capture_output=True, text=True, check=False)
    if done.returncode == 0:
        return Count(passed=1)
    say(f"--- {name} failed\n{(done.stdout + done.stderr).strip()[-6000:]}")
    return Count(failed=1)


def _unittests(name: str, command: list[str], env: dict[str, str], *, may_be_none: bool = False) -> Count:
    """A unittest run: its own count, and its output if anything failed. That no test ran is a failure unless that may be."""
    done = subprocess.run(command, cwd=ROOT, env=env, capture_output=True, text=True, check=False)
    output = done.stdout + done.stderr
    ran = re.search(r"^Ran (\d+) tests?", output, re.M)
    total = int(ran[1]) if ran else 0
    verdict = re.search(r"^FAILED \(.*\)$", output, re.M)
    wrong = sum(int(n) for n in re.findall(r"(?:failures|errors|unexpected successes)=(\d+)", verdict[0] if verdict else ""))
    if done.returncode == 0 and (total or may_be_none):
        return Count(passed=total)
    say(f"--- {name} failed\n{output.strip()[-12000:]}")
    wrong = max(1, min(wrong, max(total, 1)))
    return Count(passed=max(total - wrong, 0), failed=wrong)


def lint(rest: list[str]) -> Count:
    """Style, and that imports run one way."""
    total = _check("ruff check", [str(PYTHON), "-m", "ruff", "check", "."])
    total += _check("ruff format", [str(PYTHON), "-m", "ruff", "format", "--check", "."])
    total += _check("import contract", [str(PYTHON), "-c", "from importlinter.cli import lint_imports_command as c; c()"])
    return total


def types(rest: list[str]) -> Count:
    """Strict types on the core, checked types on server and tools."""
    total = _check("mypy --strict jugcore", [str(PYTHON), "-m", "mypy", "--strict", "jugcore"])
    return total + _check("mypy jugtool jugserver", [str(PYTHON), "-m", "mypy", "jugtool", "jugserver"])


def core(rest: list[str]) -> Count:
    """The core on the plain unittest runner, where Django cannot be imported; two processes, half of the time in each."""
    command = [str(PYTHON), "-m", "jugtool.without_django"]
    if rest:
        return _unittests("core", [*command, *rest], _environment())
    modules = sorted(f"jugcore.tests.{path.stem}" for path in (ROOT / "jugcore" / "tests").glob("test_*.py"))
    halves = [[name for name in modules if (name in _LONG) is long] for long in (True, False)]
    with ThreadPoolExecutor(2) as pool:
        counts = pool.map(lambda half: _unittests("core", [*command, *half], _environment()), halves)
    return sum(counts, Count())


def tool(rest: list[str]) -> Count:
    """The command itself."""
    return _unittests("tool", [str(PYTHON), "-m", "unittest", *(rest or ["discover", "-s", "jugtool/tests", "-t", "."])], _environment())


def server(rest: list[str]) -> Count:
    """The server against a PostgreSQL that is thrown away; its pages need the screens built."""
    install.web_build()
    with postgres.throw_away() as (port, password):
        env = _environment(OAKENJUG_DB_PORT=str(port), OAKENJUG_DB_PASSWORD_FILE=str(password), OAKENJUG_DB_NAME="postgres")
        total = _check("makemigrations --check", [str(PYTHON), "manage.py", "makemigrations", "--check", "--dry-run"], env=env)
        labels = rest or ["jugserver"]
        command = [str(PYTHON), "-W", "error::RuntimeWarning", "manage.py", "test", *labels, "--keepdb", "--noinput"]
        total += _unittests("server", [*command, "--exclude-tag", "alone", "--parallel", "2"], env)
        # What promises a time is measured with nothing else beside it.
        return total + _unittests("server, alone", [*command, "--tag", "alone"], env, may_be_none=bool(rest))


def drift(rest: list[str]) -> Count:
    """That the API description, its types and the published schemas are those of the code."""
    total = Count()
    for path, text in _generated().items():
        same = path.exists() and path.read_text(encoding="utf-8") == text
        if not same:
            say(f"--- {path.relative_to(ROOT)} is not what the code says. Run ./jug lock and commit it.")
        total += Count(passed=1) if same else Count(failed=1)
    return total


def web(rest: list[str]) -> Count:
    """Strict types and lint of the screens, and their unit tests."""
    install.web_packages()
    env = {**_environment(), **install.node_environment()}
    node = install.npm()[0]
    total = _check("tsc", [node, "node_modules/typescript/bin/tsc", "-b"], cwd=WEB, env=env)
    total += _check("eslint", [node, "node_modules/eslint/bin/eslint.js", "src"], cwd=WEB, env=env)
    with tempfile.TemporaryDirectory() as scratch:
        out = Path(scratch) / "vitest.json"
        done = subprocess.run(
            [node, "node_modules/vitest/vitest.mjs", "run", "--reporter=json", f"--outputFile={out}", *rest],
            cwd=WEB,
            env=env,
            capture_output=True,
            text=True,
            check=False,
        )
        if not out.exists():
            say(f"--- vitest failed\n{(done.stdout + done.stderr)[-4000:]}")
            return total + Count(failed=1)
        result = json.loads(out.read_text())
    for file in result["testResults"]:
        if file["status"] != "passed":
            say(f"--- {file['name']}: {file.get('message', '')[:2000]}")
        for one in file["assertionResults"]:
            if one["status"] != "passed":
                say(f"--- {one['fullName']}\n{' '.join(one['failureMessages'])[:2000]}")
    failed = int(result["numFailedTests"]) + (1 if not result["success"] and not result["numFailedTests"] else 0)
    return total + Count(passed=int(result["numPassedTests"]), failed=failed)


def browser(rest: list[str]) -> Count:
    """The jobs done as a person does them, in a real browser."""
    debian.ensure(browser=True)
    install.web_build()
    with postgres.throw_away() as (port, password):
        env = _environment(OAKENJUG_DB_PORT=str(port), OAKENJUG_DB_PASSWORD_FILE=str(password), OAKENJUG_DB_NAME="postgres")
        return _unittests("browser", [str(PYTHON), "manage.py", "test", *(rest or ["e2e"]), "--parallel", "2", "--noinput"], env)


SUITES: dict[str, Callable[[list[str]], Count]] = {
    "lint": lint, "types": types, "core": core, "tool": tool, "server": server, "drift": drift, "web": web, "browser": browser,
}  # fmt: skip
NAMES = tuple(SUITES)


def run(name: str | None, rest: list[str]) -> int:
    """Run all suites, or one; the last line is “N passed, N failed”."""
    if name is not None and name not in SUITES:
        raise Failed("Finding the suite", f"there is none called {name}.", f"use one of {', '.join(NAMES)}.")
    debian.ensure(browser=name in (None, "browser"))
    install.python_packages("dev")
    total, times = Count(), []
    for each in [name] if name else NAMES:
        began = time.monotonic()
        found = SUITES[each](rest)
        total += found
        times.append((each, found, time.monotonic() - began))
        say(f"{each:>8}  {found.passed:4d} passed  {found.failed:3d} failed  {times[-1][2]:6.1f} s")
    if not name:
        say(f"{'all':>8}  {sum(t for _, _, t in times):.0f} s")
    say(f"{total.passed} passed, {total.failed} failed")
    return 0 if total.failed == 0 and total.passed else 1


def _generated() -> dict[Path, str]:
    """Every generated file that is committed, as the code writes it now."""
    install.web_packages()
    found: dict[Path, str] = {}
    description = _output([str(PYTHON), "manage.py", "export_openapi_schema", "--api", "jugserver.config.api.api", "--indent", "2"])
    found[OPENAPI] = json.dumps(json.loads(description), indent=2, ensure_ascii=False) + "\n"
    for what, path in SCHEMAS.items():
        found[path] = _output([str(PYTHON), "-m", "jugcore", "schema", what])
    with tempfile.TemporaryDirectory() as scratch:
        source, target = Path(scratch) / "openapi.json", Path(scratch) / "schema.d.ts"
        source.write_text(found[OPENAPI], encoding="utf-8")
        _output(
            [install.npm()[0], "node_modules/openapi-typescript/bin/cli.js", str(source), "-o", str(target)], cwd=WEB, env=install.node_environment()
        )
        found[TYPES] = target.read_text(encoding="utf-8")
    return found


def _output(command: list[str], *, cwd: Path = ROOT, env: dict[str, str] | None = None) -> str:
    done = subprocess.run(command, cwd=cwd, env=env or _environment(), capture_output=True, text=True, check=False)
    if done.returncode != 0:
        raise Failed(f"“{' '.join(command[-4:])}”", (done.stderr + done.stdout)[-1500:], "mend what it names.")
    return done.stdout


def write_generated() -> int:
    """Write the generated files anew."""
    install.python_packages("dev")
    for path, text in _generated().items():
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text, encoding="utf-8")
        say(f"wrote {path.relative_to(ROOT)}")
    return 0
