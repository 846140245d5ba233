"""The suites: where the tests of each are, which process runs them, and what must stand ready."""

from __future__ import annotations

from collections.abc import Awaitable, Callable, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from pathlib import Path
from typing import Literal, TypeAlias

from jugtool.places import PYTHON, ROOT
from jugtool.testing import checks
from jugtool.testing.outcome import Outcome

Need: TypeAlias = Literal["screens", "database", "chromium"]
Check: TypeAlias = Callable[[dict[str, str], Sequence[str]], Awaitable[list[Outcome]]]
_WORKER = (str(PYTHON), "-m", "jugtool.testing.worker")


@dataclass(frozen=True)
class Tests:
    """Modules of unittest tests, run by workers."""

    name: str
    what: str
    #: Globs under the project's root.
    files: tuple[str, ...]
    worker: tuple[str, ...]
    #: A test that nobody has timed yet. [s]
    usual_s: float
    needs: frozenset[Need] = frozenset()
    #: What fails while others run is tried once more when nothing else does: it waits by the clock for what other processes do,
    #: and a machine that stands still for some seconds is no fault of the app's.
    again: bool = False

    @cached_property
    def modules(self) -> dict[str, Path]:
        """Dotted name → file."""
        found = sorted(path for pattern in self.files for path in ROOT.glob(pattern))
        return {".".join(path.relative_to(ROOT).with_suffix("").parts): path for path in found}


@dataclass(frozen=True)
class Checks:
    """Commands that must succeed, each by its name."""

    name: str
    what: str
    checks: dict[str, Check]
    usual_s: float = 5.0
    needs: frozenset[Need] = field(default=frozenset())


Suite: TypeAlias = Tests | Checks

_ALL: tuple[Suite, ...] = (
    Checks(
        "lint", "style, and that imports run one way",
        {"ruff check": checks.ruff_check, "ruff format": checks.ruff_format, "import contract": checks.import_contract}, 1.0,
    ),
    Checks("types", "strict types on the core, checked types on server and tools", {"mypy": checks.mypy}, 40.0),
    Tests(
        "core", "the core, in a process where Django cannot be imported", ("jugcore/tests/test_*.py",), (*_WORKER, "--without-django"), 0.5,
    ),
    Tests("tool", "the command itself", ("jugtool/tests/test_*.py",), _WORKER, 5.0, frozenset({"screens"})),
    Tests(
        "server", "the server, on a PostgreSQL that is thrown away", ("jugserver/*/tests/test_*.py",),
        (str(PYTHON), "-W", "error::RuntimeWarning", "-m", "jugserver.config.tests.worker"), 1.0, frozenset({"screens", "database"}),
    ),
    Checks("drift", "that what is generated from the code is as the code says", {"generated": checks.drift}, 20.0),
    Checks(
        "web", "types, style and unit tests of the screens",
        {"tsc": checks.tsc, "eslint": checks.eslint, "prettier": checks.prettier, "vitest": checks.vitest}, 12.0,
    ),
    Tests(
        "browser", "the jobs done as a person does them, in a real browser", ("e2e/test_*.py",),
        (str(PYTHON), "-m", "e2e.worker"), 6.0, frozenset({"screens", "database", "chromium"}), again=True,
    ),
)  # fmt: skip
SUITES: dict[str, Suite] = {suite.name: suite for suite in _ALL}
