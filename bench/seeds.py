"""Choose the seeds that the everyday run of the tests goes through: ``.venv/bin/python -m bench.seeds [--processes N]``

Goes through all of them once (a quarter of an hour) and writes jugcore/tests/data/chosen_seeds.json. Run it again after
a change to what the random methods are, or to what is solved of them.
"""

from __future__ import annotations

import argparse
import json
from collections.abc import Iterable
from itertools import pairwise
from multiprocessing import get_context
from statistics import median
from typing import Any

import coverage
import numpy as np

from bench.mutants.faults import CORE
from jugcore.method.compile import parse_document
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugcore.method.stages import Boil
from jugcore.method.walk import walk
from jugcore.solving.problem import Problem
from jugcore.solving.solve import solve
from jugcore.suggesting.suggestions import suggestions
from jugcore.tests import depth, test_solve, test_suggestions
from jugcore.tests.random_methods import random_method
from jugcore.tests.test_walk_invariants import intensive

METHODS, TYPED = 150, 40


def _watched() -> coverage.Coverage:
    return coverage.Coverage(data_file=None, config_file=False, branch=True, include=[f"{CORE}/*"], omit=[f"{CORE}/tests/*"])


def _branches(watch: coverage.Coverage) -> set[str]:
    data = watch.get_data()
    return {f"{file}:{a}:{b}" for file in data.measured_files() for a, b in data.arcs(file) or ()}


def _features(method: Method) -> set[str]:
    """What a method is made of: its stages, two after one another, ends of boils, forms of amounts."""
    kinds = [stage.kind for stage in method.stages]
    found = {f"stage {kind}" for kind in kinds} | {f"after {a}: {b}" for a, b in pairwise(kinds)}
    found |= {f"end {stage.until.kind}" for stage in method.stages if isinstance(stage, Boil)}
    return found | {f"amount {type(amount).__name__}" for amount in method.amounts.values()}


def solved(seed: int) -> dict[str, Any]:
    """What comes of solving one random method, and everything it met on the way."""
    watch = _watched()
    with watch.collect():
        method = parse_document(random_method(seed))
        kitchen = method.document.kitchen or Kitchen()
        faults = {f"fault {fault.code}" for fault in walk(method, kitchen).faults}
        intensive(walk(parse_document(random_method(seed, film=False, minutes=False, scale=3.0))))
        case = test_solve.Random.case(seed)
        met, status, rounds = _features(method) | faults, "none", 0
        if case is not None:
            change = test_solve.change_of(seed)
            solution = solve(case[0], Problem(case[2], change=change, explain=False), kitchen=case[1])
            status, rounds = solution.status, solution.rounds
            met |= {f"{status} {change} {len(case[2])} targets", f"rounds {rounds}"}
            met |= {f"{status} {target.reading} {'window' if target.low != target.high else 'value'}" for target in case[2]}
            met |= {f"{status} with {kind}" for kind in _features(method) if kind.startswith(("stage", "end"))}
    return {"seed": seed, "status": status, "rounds": rounds, "met": met | _branches(watch)}


def typed(seed: int) -> dict[str, Any] | None:
    """What ways there are to a value typed over a reading of a random method, and everything met on the way."""
    case = test_suggestions.Random.case(seed)
    if case is None:
        return None
    watch = _watched()
    with watch.collect():
        found = suggestions(*case)
    kinds = {f"{way.kind} for {case[1]}" for way in found.suggestions} | {f"{way.kind} breaks {len(way.ties_broken)}" for way in found.suggestions}
    return {"seed": seed, "ways": len(found.suggestions), "met": kinds | {f"{len(found.suggestions)} ways for {case[1]}"} | _branches(watch)}


def _begin() -> None:
    """What is worked out once a process must not count for the seed that comes first."""
    for seed in range(3):
        solved(seed)
        typed(seed)


def choose(found: list[dict[str, Any]], most: int) -> list[int]:
    """Those that meet most of what the ones before them do not, then those that meet what is met least: any first few serve best."""
    things = sorted({what for each in found for what in each["met"]})
    column = {what: n for n, what in enumerate(things)}
    meets = np.zeros((len(found), len(things)), dtype=bool)
    for row, each in enumerate(found):
        meets[row, [column[what] for what in each["met"]]] = True
    rare, unmet, times = meets.sum(axis=0), np.ones(len(things), dtype=bool), np.zeros(len(things))
    taken: list[int] = []
    while len(taken) < min(most, len(found)):
        news, worth = (meets & unmet).sum(axis=1), (meets / (rare * (1 + times))).sum(axis=1)
        news[taken] = -1
        best = max(range(len(found)), key=lambda row: (news[row], worth[row], -row))
        taken.append(best)
        unmet &= ~meets[best]
        times += meets[best]
    print(f"{len(taken)} of {len(found)} chosen; {unmet.sum()} of {len(things)} things that all of them meet are not met by these")
    return [found[row]["seed"] for row in taken]


def _outcomes(found: Iterable[dict[str, Any]]) -> list[str]:
    return sorted({each["status"] for each in found})


def main() -> None:
    asked = argparse.ArgumentParser()
    asked.add_argument("--processes", type=int, default=2)
    with get_context("spawn").Pool(asked.parse_args().processes, _begin) as pool:
        all_solved = pool.map(solved, range(depth.METHODS), chunksize=10)
        all_typed: list[dict[str, Any]] = []
        for each in pool.imap(typed, range(1, 100 * depth.TYPED), chunksize=4):
            if each is not None:
                all_typed.append(each)
            if len(all_typed) == depth.TYPED:
                break
        pool.terminate()
    methods, over = choose(all_solved, METHODS), choose(all_typed, TYPED)
    rounds = [each["rounds"] for each in all_solved if each["status"] == "solved"]
    told = {
        "all": {
            "asked": sum(each["status"] != "none" for each in all_solved), "median_rounds": median(rounds), "outcomes": _outcomes(all_solved),
            "typed": len(all_typed), "offered": sum(each["ways"] for each in all_typed),
        },
        "outcomes": _outcomes(each for each in all_solved if each["seed"] in set(methods)),
        "methods": methods,
        "typed": over,
        "unsolved": [each["seed"] for each in all_solved if each["status"] not in ("solved", "none")],
        "few_ways": [each["seed"] for each in all_typed if each["ways"] < 2],
        "all_typed": [each["seed"] for each in all_typed],
    }  # fmt: skip
    depth.CHOSEN.write_text(json.dumps(told) + "\n", encoding="utf-8")
    print(f"wrote {depth.CHOSEN.relative_to(CORE.parent)}: {told['all']}")


if __name__ == "__main__":
    main()
