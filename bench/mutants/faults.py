"""Small faults that can be put into the core, one at a time, and the sample of them that is tried."""

from __future__ import annotations

import ast
import hashlib
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent.parent
CORE = ROOT / "jugcore"
SEED, SAMPLE = 20261125, 500
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
    """A file's source with one fault, the line it is in, and what it is.

    ``~site`` gives the same source written out with no fault in it: a control, which no test may notice.
    """
    tree = ast.parse((ROOT / file).read_text(encoding="utf-8"))
    node, kind = _sites(tree)[site if site >= 0 else ~site]
    line = getattr(node, "lineno", 0)
    what = _change(node, kind) if site >= 0 else "nothing changed"
    return ast.unparse(ast.fix_missing_locations(tree)), line, what


def statement(file: str, site: int) -> range:
    """The lines of the statement a fault is in; of one with a body, its head alone."""
    tree = ast.parse((ROOT / file).read_text(encoding="utf-8"))
    wanted = _sites(tree)[site if site >= 0 else ~site][0]
    lines = range(getattr(wanted, "lineno", 0), getattr(wanted, "end_lineno", 0) + 1)
    for node in ast.walk(tree):
        if isinstance(node, ast.stmt) and any(inner is wanted for inner in _own(node)):
            lines = range(min(node.lineno, lines.start), max(_head_end(node), lines.stop - 1) + 1)
    return lines


def _own(statement: ast.stmt) -> list[ast.AST]:
    """A statement's nodes, but not those of the statements in its body."""
    found: list[ast.AST] = []
    todo: list[ast.AST] = [statement]
    while todo:
        node = todo.pop()
        found.append(node)
        todo += [child for child in ast.iter_child_nodes(node) if not isinstance(child, ast.stmt)]
    return found


def _head_end(statement: ast.stmt) -> int:
    bodies = [child.lineno for child in ast.walk(statement) if isinstance(child, ast.stmt) and child is not statement]
    return max(min(bodies) - 1, statement.lineno) if bodies else statement.end_lineno or statement.lineno
