"""Mutants of the core: small faults put in one at a time, and whether the tests notice.

Run with ``.venv/bin/python -m bench.mutants [--most N] [--again] [--processes N]``. The sample is fixed by
its seed; what has been tried is kept in bench/mutants.json and gone on from, and the score
with every survivor is written to bench/mutants.md. Tests that walk hundreds of random cases
for minutes are left out, so the score is a floor.
"""

from __future__ import annotations

import argparse
import ast
import hashlib
import importlib.abc
import importlib.machinery
import importlib.util
import json
import os
import signal
import subprocess
import sys
import unittest
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from types import ModuleType
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
CORE = ROOT / "jugcore"
KEPT, REPORT = Path(__file__).parent / "mutants.json", Path(__file__).parent / "mutants.md"
SEED, SAMPLE = 20261125, 500
LIMIT_S = 150
#: Tests of minutes; the mutants they alone would notice count as survivors.
LEFT_OUT = ("test_solve.Random", "test_ways.Random", "test_mutated_documents", "test_walk_invariants")
_COMPARE = {ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq}
_ARITHMETIC = {ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult}


def _sites(tree: ast.Module) -> list[tuple[ast.AST, str]]:
    """Nodes that can be changed, with what the change is; annotations and texts left alone."""
    skip = {id(part) for node in ast.walk(tree) for part in _annotations(node)}
    found: list[tuple[ast.AST, str]] = []
    for node in ast.walk(tree):
        if id(node) in skip:
            continue
        if isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in _COMPARE:
            found.append((node, "compare"))
        elif isinstance(node, ast.BinOp) and type(node.op) in _ARITHMETIC and not _is_text(node):
            found.append((node, "arithmetic"))
        elif isinstance(node, ast.BoolOp):
            found.append((node, "and/or"))
        elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
            found.append((node, "not"))
        elif isinstance(node, ast.If | ast.IfExp):
            found.append((node, "condition"))
        elif isinstance(node, ast.Constant) and type(node.value) in (int, float):
            found.append((node, "number"))
    return found


def _annotations(node: ast.AST) -> list[ast.AST]:
    parts = [getattr(node, "annotation", None), getattr(node, "returns", None)]
    return [inner for part in parts if isinstance(part, ast.AST) for inner in ast.walk(part)]


def _is_text(node: ast.BinOp) -> bool:
    return any(isinstance(s, ast.JoinedStr) or (isinstance(s, ast.Constant) and isinstance(s.value, str)) for s in (node.left, node.right))


def _change(node: Any, kind: str) -> str:
    """Make the fault; says what it is."""
    before = ast.unparse(node)
    match kind:
        case "compare":
            node.ops = [_COMPARE[type(node.ops[0])]()]
        case "arithmetic":
            node.op = _ARITHMETIC[type(node.op)]()
        case "and/or":
            node.op = ast.Or() if isinstance(node.op, ast.And) else ast.And()
        case "not":
            node.op, node.operand = ast.Not(), ast.UnaryOp(ast.Not(), node.operand)
        case "condition":
            before = f"if {ast.unparse(node.test)}"
            node.test = ast.UnaryOp(ast.Not(), node.test)
            return f"{before} → if not"
        case _:
            node.value = node.value + 1 if isinstance(node.value, int) else (node.value * 1.25 if node.value else 0.5)
    return f"{before[:70]} → {ast.unparse(node)[:70]}"


def mutants() -> list[dict[str, Any]]:
    """The sample: file, which of its sites, and a key that stays while other code changes.

    Sites are ranked by a hash of the seed, the file and what is written there, so that a
    change elsewhere leaves the sample as it was.
    """
    ranked = []
    for path in sorted(CORE.rglob("*.py")):
        if "tests" in path.parts or path.name in ("__init__.py", "__main__.py"):
            continue
        file, seen = str(path.relative_to(ROOT)), dict[str, int]()
        for index, (node, kind) in enumerate(_sites(ast.parse(path.read_text(encoding="utf-8")))):
            text = f"{kind} {ast.unparse(node)}"
            seen[text] = seen.get(text, 0) + 1
            key = hashlib.sha256(f"{SEED} {file} {text} {seen[text]}".encode()).hexdigest()
            ranked.append({"key": key, "file": file, "site": index})
    return sorted(ranked, key=lambda m: str(m["key"]))[:SAMPLE]


def mutated(file: str, site: int) -> tuple[str, int, str]:
    """A file's source with one fault, the line it is in, and what it is; as it is for a site below nothing."""
    if site < 0:
        return (ROOT / file).read_text(encoding="utf-8"), 0, "unchanged"
    tree = ast.parse((ROOT / file).read_text(encoding="utf-8"))
    node, kind = _sites(tree)[site]
    line = getattr(node, "lineno", 0)
    what = _change(node, kind)
    return ast.unparse(ast.fix_missing_locations(tree)), line, what


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


def _tests(suite: unittest.TestSuite) -> list[unittest.TestCase]:
    found: list[unittest.TestCase] = []
    for each in suite:
        found += _tests(each) if isinstance(each, unittest.TestSuite) else [each]
    return found


def one(file: str, site: int) -> int:
    """In a process of its own: 1 where a test noticed, 0 where none did."""
    source, _, _ = mutated(file, site)
    name = file.removesuffix(".py").replace("/", ".")
    sys.meta_path.insert(0, _Instead(name, source))
    stem = name.rsplit(".", 1)[1]
    try:
        tests = _tests(unittest.TestLoader().discover(str(CORE / "tests"), top_level_dir=str(ROOT)))
    except Exception:
        return 1
    tests = [test for test in tests if not any(part in test.id() for part in LEFT_OUT)]
    if any("_FailedTest" in type(test).__name__ for test in tests):
        return 1
    # What names the module is likeliest to notice, and quickest asked.
    tests.sort(key=lambda test: stem not in Path(sys.modules[type(test).__module__].__file__ or "").read_text(encoding="utf-8"))
    result = unittest.TextTestRunner(stream=open(os.devnull, "w"), failfast=True).run(unittest.TestSuite(tests))  # noqa: SIM115
    return 0 if result.wasSuccessful() else 1


def judged(mutant: dict[str, Any]) -> dict[str, Any]:
    """A mutant with its fate: killed, slow (its tests never ended) or survived."""
    _, line, what = mutated(mutant["file"], mutant["site"])
    command = [sys.executable, "-W", "ignore", "-m", "bench.mutants", "--one", mutant["file"], str(mutant["site"])]
    process = subprocess.Popen(command, cwd=ROOT, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, start_new_session=True)
    try:
        fate = "survived" if process.wait(LIMIT_S) == 0 else "killed"
    except subprocess.TimeoutExpired:
        os.killpg(process.pid, signal.SIGKILL)
        process.wait()
        fate = "slow"
    return {**mutant, "line": line, "what": what, "fate": fate}


def main() -> None:
    asked = argparse.ArgumentParser()
    asked.add_argument("--one", nargs=2, metavar=("FILE", "SITE"))
    asked.add_argument("--most", type=int, default=SAMPLE)
    asked.add_argument("--again", action="store_true", help="try the survivors once more first, with the tests of today")
    asked.add_argument("--processes", type=int, default=2)
    chosen = asked.parse_args()
    if chosen.one:
        sys.exit(1 if one(chosen.one[0], int(chosen.one[1])) else 0)
    known = json.loads(KEPT.read_text(encoding="utf-8")) if KEPT.exists() else []
    sample = mutants()
    # What was tried on code that has changed since says nothing of today's.
    keys = {m["key"] for m in sample}
    known = [m for m in known if m.get("key") in keys]
    if chosen.again:
        known = [m for m in known if m["fate"] != "survived"]
    tried = {m["key"] for m in known}
    todo = [m for m in sample if m["key"] not in tried][: chosen.most]
    with ThreadPoolExecutor(chosen.processes) as pool:
        for done in pool.map(judged, todo):
            known.append(done)
            KEPT.write_text(json.dumps(known, indent=0, ensure_ascii=False) + "\n", encoding="utf-8")
            print(f"{len(known):4} {done['fate']:9} {done['file']}:{done['line']} {done['what']}", flush=True)
    survivors = [m for m in known if m["fate"] == "survived"]
    noticed = len(known) - len(survivors)
    score = f"{noticed} noticed ({100 * noticed / max(len(known), 1):.1f} %), {len(survivors)} survived"
    lines = [
        "# Mutants of the core",
        "",
        f"Seed {SEED}; {len(known)} of a sample of {SAMPLE} tried: {score}.",
        f"One whose tests do not end within {LIMIT_S} s counts as noticed. Left out, since they take minutes: {', '.join(LEFT_OUT)}.",
        "",
        *(f"- `{m['file']}:{m['line']}` {m['what']}" for m in sorted(survivors, key=lambda m: (m["file"], m["line"]))),
        "",
    ]
    REPORT.write_text("\n".join(lines), encoding="utf-8")
    print(lines[2])


if __name__ == "__main__":
    main()
