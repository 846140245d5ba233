"""From what was typed behind ``./jug test`` to what is to run of which suite."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

from jugtool.places import WEB
from jugtool.say import Failed
from jugtool.testing.history import split
from jugtool.testing.suites import SUITES, Checks, Suite, Tests


@dataclass(frozen=True)
class Chosen:
    """What is to run of a suite: all of it, or what some names stand for."""

    suite: Suite
    #: Modules to load, or checks to run.
    parts: tuple[str, ...]
    #: Names of tests, whole or in part; none for all.
    wanted: tuple[str, ...] = ()
    #: What is handed to the checks: files and words the screens' unit tests are narrowed to.
    only: tuple[str, ...] = ()

    def wants(self, id: str) -> bool:
        """Whether a test is meant: by its whole name, its class, its own name, or any run of these."""
        return not self.wanted or any(f".{wanted}." in f".{id}." for wanted in self.wanted) or "_FailedTest" in id


def whole(suite: Suite) -> Chosen:
    return Chosen(suite, tuple(suite.modules if isinstance(suite, Tests) else suite.checks))


@dataclass(frozen=True)
class Asked:
    """A name as it was typed, and where what it stands for may be: modules are not read for it, only searched."""

    name: str
    parts: tuple[Chosen, ...]

    def found(self, told: Mapping[str, Sequence[str]]) -> bool:
        """Whether a test is called so. ``told``: suite → the names of its tests; without those that could not be loaded."""
        return any(
            isinstance(part.suite, Checks) or part.suite.name not in told or any(map(part.wants, told[part.suite.name])) for part in self.parts
        )


def asked(names: Sequence[str]) -> list[Asked]:
    """What each names: a suite, a file, a module, a class, a test, a check.

    One suite with names of none behind it is where those are looked for.

    Raises
    ------
    Failed
        A name stands for nothing.
    """
    among = list(SUITES.values())
    where = ""
    if names[1:] and names[0] in SUITES and not any(name in SUITES for name in names[1:]):
        where = f" in {names[0]}"
        among, names = [SUITES[names[0]]], names[1:]
    found = []
    for name in names:
        parts = [whole(SUITES[name])] if name in SUITES else [each for suite in among if (each := _named(suite, name))]
        if not parts:
            raise Failed(
                "Finding the test", f"there is none called {name}{where}.",
                f"use one of {', '.join(SUITES)}, or the name of a test, its class or its file.",
            )  # fmt: skip
        found.append(Asked(name, tuple(parts)))
    return found


def choose(names: Sequence[Asked]) -> list[Chosen]:
    """What is to run for names; everything for none."""
    return _by_suite(part for name in names for part in name.parts) if names else [whole(suite) for suite in SUITES.values()]


def failed(keys: Sequence[str]) -> list[Chosen]:
    """What failed last, by its :func:`history.key`; what is no longer there is left out."""
    named = (_named(SUITES[suite], name) for suite, name in map(split, keys) if suite in SUITES)
    return _by_suite(each for each in named if each)


def _by_suite(parts: Iterable[Chosen]) -> list[Chosen]:
    found: dict[str, list[Chosen]] = {}
    for part in parts:
        found.setdefault(part.suite.name, []).append(part)
    return [_joined(each) for each in found.values()]


def _joined(parts: list[Chosen]) -> Chosen:
    if any(not each.wanted and not each.only for each in parts):
        wanted: tuple[str, ...] = ()
        only: tuple[str, ...] = ()
    else:
        wanted = tuple(dict.fromkeys(name for each in parts for name in each.wanted))
        only = tuple(dict.fromkeys(name for each in parts for name in each.only))
    return Chosen(parts[0].suite, tuple(dict.fromkeys(part for each in parts for part in each.parts)), wanted, only)


def _named(suite: Suite, name: str) -> Chosen | None:
    return _check(suite, name) if isinstance(suite, Checks) else _test(suite, name)


def _check(suite: Checks, name: str) -> Chosen | None:
    check, _, detail = name.partition(": ")
    if check in suite.checks:
        return Chosen(suite, (check,), only=(detail.partition(": ")[0],) if detail and check == "vitest" else ())
    if "vitest" in suite.checks and any(name in str(path.relative_to(WEB)) for path in _screens_tests()):
        return Chosen(suite, ("vitest",), only=(name,))
    return None


def _screens_tests() -> list[Path]:
    return [*(WEB / "src").rglob("*.test.ts"), *(WEB / "src").rglob("*.test.tsx")]


def _test(suite: Tests, name: str) -> Chosen | None:
    wanted = name.removesuffix(".py").strip("/").replace("/", ".")
    modules = tuple(module for module in suite.modules if f"{module}.".startswith(f"{wanted}."))
    if modules:
        return Chosen(suite, modules, (wanted,))
    modules = tuple(module for module in suite.modules if wanted.startswith(f"{module}."))
    if modules:
        return Chosen(suite, modules, (wanted,))
    modules = tuple(module for module in suite.modules if module.endswith(f".{wanted}"))
    if modules:
        return Chosen(suite, modules, (wanted,))
    first, _, rest = wanted.partition(".")
    says = re.compile(rf"^ *(?:class|(?:async )?def) {re.escape(first)}\b", re.M)
    modules = tuple(module for module, path in suite.modules.items() if says.search(path.read_text(encoding="utf-8")))
    return Chosen(suite, modules, (wanted,)) if modules and first.isidentifier() and (not rest or rest.isidentifier()) else None
