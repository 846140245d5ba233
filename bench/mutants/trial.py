"""One fault, shown to the tests that run its line, in a process of its own."""

from __future__ import annotations

import importlib.abc
import importlib.machinery
import importlib.util
import multiprocessing
import os
import resource
import signal
import sys
import unittest
from types import ModuleType
from typing import Any

from bench.mutants.faults import ROOT, mutated, statement
from bench.mutants.reach import Reach

#: A fault whose quickest test of this many seconds has not noticed it is left to the others.
MOST_S = 40.0
#: One that works no more, and waits for what never comes, is ended after so many times what it may work.
_ASLEEP = 60
_LIBRARIES = ["numpy", "scipy.optimize", "scipy.sparse", "clarabel", "pydantic", "lark", "hypothesis", "coverage"]


def ready() -> None:
    """Have the libraries loaded once, for every process to begin with."""
    multiprocessing.get_context("forkserver").set_forkserver_preload(_LIBRARIES)


class _Instead(importlib.abc.MetaPathFinder, importlib.abc.Loader):
    """Loads one module from a changed source."""

    def __init__(self, name: str, source: str) -> None:
        self._name, self._source = name, source

    def find_spec(self, name: str, path: object = None, target: ModuleType | None = None) -> importlib.machinery.ModuleSpec | None:
        if name != self._name:
            return None
        return importlib.util.spec_from_loader(name, self, origin=str(ROOT / (name.replace(".", "/") + ".py")))

    def exec_module(self, module: ModuleType) -> None:
        module.__file__ = str(ROOT / (self._name.replace(".", "/") + ".py"))
        exec(compile(self._source, module.__file__, "exec"), module.__dict__)


def one(file: str, site: int, tests: list[str], most_s: int) -> None:
    """In a process of its own: leaves with 1 where a test noticed, with 0 where none did; ended after so much of a core's time."""
    resource.setrlimit(resource.RLIMIT_CPU, (most_s, most_s + 5))
    source, _, _ = mutated(file, site)
    sys.meta_path.insert(0, _Instead(file.removesuffix(".py").replace("/", "."), source))
    sys.stdout = sys.stderr = open(os.devnull, "w")  # noqa: SIM115
    try:
        suite = unittest.TestLoader().loadTestsFromNames(tests)
    except Exception:
        os._exit(1)
    result = unittest.TextTestRunner(failfast=True).run(suite)
    os._exit(0 if result.wasSuccessful() else 1)


def judged(mutant: dict[str, Any], reach: Reach) -> dict[str, Any]:
    """A fault with its fate: killed, slow (its tests never ended), unreached (no test runs its line) or survived."""
    file, site = mutant["file"], mutant["site"]
    _, line, what = mutated(file, site)
    tests: list[str] = []
    spent = 0.0
    for test in reach.tests(file, statement(file, site)):
        spent += reach.seconds([test])
        if spent > MOST_S and tests:
            break
        tests.append(test)
    if not tests:
        return {**mutant, "line": line, "what": what, "fate": "unreached"}
    # Thrice the measured time, of a core: a machine that does other things too ends nothing sooner.
    most_s = int(30 + 3 * reach.seconds(tests))
    process = multiprocessing.get_context("forkserver").Process(target=one, args=(file, site, tests, most_s), daemon=True)
    process.start()
    process.join(_ASLEEP * most_s)
    if process.is_alive():
        process.kill()
        process.join()
        fate = "slow"
    else:
        fate = "slow" if process.exitcode in (-signal.SIGXCPU, -signal.SIGKILL) else "killed" if process.exitcode else "survived"
    return {**mutant, "line": line, "what": what, "fate": fate}
