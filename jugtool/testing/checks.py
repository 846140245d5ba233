"""Checks that are a command each: style, types, what is generated, and the screens' own tests."""

from __future__ import annotations

import asyncio
import json
import tempfile
import time
from collections.abc import Sequence
from pathlib import Path

from jugtool import generated, install
from jugtool.places import PYTHON, ROOT, WEB
from jugtool.testing.outcome import Outcome, Wrong

_SHOWN = 8000


async def _ran(command: Sequence[str], cwd: Path, env: dict[str, str]) -> tuple[int, str]:
    process = await asyncio.create_subprocess_exec(
        *command, cwd=cwd, env=env, stdin=asyncio.subprocess.DEVNULL, stdout=asyncio.subprocess.PIPE, stderr=asyncio.subprocess.STDOUT
    )
    try:
        output, _ = await process.communicate()
    except asyncio.CancelledError:
        process.kill()
        raise
    assert process.returncode is not None
    return process.returncode, output.decode(errors="replace").strip()


async def _succeeds(suite: str, name: str, command: Sequence[str], env: dict[str, str], cwd: Path = ROOT) -> list[Outcome]:
    """One command that must succeed."""
    began = time.monotonic()
    code, output = await _ran(command, cwd, env)
    wrong = () if code == 0 else (Wrong(output[-_SHOWN:] or f"It ended with code {code}."),)
    return [Outcome(suite, name, time.monotonic() - began, wrong)]


async def ruff_check(env: dict[str, str], only: Sequence[str]) -> list[Outcome]:
    return await _succeeds("lint", "ruff check", [str(PYTHON), "-m", "ruff", "check", "."], env)


async def ruff_format(env: dict[str, str], only: Sequence[str]) -> list[Outcome]:
    return await _succeeds("lint", "ruff format", [str(PYTHON), "-m", "ruff", "format", "--check", "."], env)


async def import_contract(env: dict[str, str], only: Sequence[str]) -> list[Outcome]:
    # Without its cache, which two runs in one clone would write over each other.
    code = "import sys; from importlinter.cli import lint_imports; sys.exit(lint_imports(no_cache=True))"
    return await _succeeds("lint", "import contract", [str(PYTHON), "-c", code], env)


async def mypy(env: dict[str, str], only: Sequence[str]) -> list[Outcome]:
    """Strict on the core, by the project's settings, and checked types on server, tools, benches and browser tests."""
    return await _succeeds("types", "mypy", [str(PYTHON), "-m", "mypy", "jugcore", "jugtool", "jugserver", "bench", "e2e"], env)


async def drift(env: dict[str, str], only: Sequence[str]) -> list[Outcome]:
    """That the API description, its types and the published schemas are those of the code."""
    began = time.monotonic()
    found = await asyncio.to_thread(generated.generated)
    each_s = (time.monotonic() - began) / len(found)
    outcomes = []
    for path, text in found.items():
        same = path.exists() and path.read_text(encoding="utf-8") == text
        name = path.relative_to(ROOT)
        wrong = () if same else (Wrong(f"{name} is not what the code says. Run ./jug lock and commit it."),)
        outcomes.append(Outcome("drift", f"generated: {name}", each_s, wrong))
    return outcomes


#: What the formatter writes; ``npm run format`` in ``web`` does it.
_WRITTEN = ("src/**/*.{ts,tsx,css}", "*.ts")
#: What the three below found last time, of each file by its contents; gone with the packages they are of.
_FOUND = "node_modules/.cache"


async def tsc(env: dict[str, str], only: Sequence[str]) -> list[Outcome]:
    await asyncio.to_thread(install.web_packages)
    return await _succeeds(
        "web",
        "tsc",
        [*_node("typescript/bin/tsc"), "--noEmit", "--incremental", "--tsBuildInfoFile", f"{_FOUND}/tsc.tsbuildinfo"],
        {**env, **install.node_environment()},
        WEB,
    )


async def eslint(env: dict[str, str], only: Sequence[str]) -> list[Outcome]:
    await asyncio.to_thread(install.web_packages)
    return await _succeeds(
        "web",
        "eslint",
        [*_node("eslint/bin/eslint.js"), "--cache", "--cache-strategy", "content", "--cache-location", f"{_FOUND}/eslint", "src"],
        {**env, **install.node_environment()},
        WEB,
    )


async def prettier(env: dict[str, str], only: Sequence[str]) -> list[Outcome]:
    """That every file of the screens stands as the formatter writes it."""
    await asyncio.to_thread(install.web_packages)
    return await _succeeds(
        "web",
        "prettier",
        [*_node("prettier/bin/prettier.cjs"), "--check", "--cache", "--cache-strategy", "content", "--log-level", "warn", *_WRITTEN],
        {**env, **install.node_environment()},
        WEB,
    )


async def vitest(env: dict[str, str], only: Sequence[str]) -> list[Outcome]:
    """The screens' unit tests, or those of files and names that contain what is given."""
    await asyncio.to_thread(install.web_packages)
    began = time.monotonic()
    with tempfile.TemporaryDirectory(prefix="oakenjug-vitest-") as scratch:
        out = Path(scratch) / "vitest.json"
        command = [*_node("vitest/vitest.mjs"), "run", "--reporter=json", f"--outputFile={out}", *only]
        _, output = await _ran(command, WEB, {**env, **install.node_environment()})
        if not out.exists():
            return [Outcome("web", "vitest", time.monotonic() - began, (Wrong(output[-_SHOWN:]),))]
        result = json.loads(out.read_text(encoding="utf-8"))
    outcomes = []
    for file in result["testResults"]:
        name = Path(file["name"]).relative_to(WEB)
        if file["status"] != "passed" and not any(one["status"] == "failed" for one in file["assertionResults"]):
            outcomes.append(Outcome("web", f"vitest: {name}", 0.0, (Wrong(file.get("message") or "It could not be read."),)))
        for one in file["assertionResults"]:
            wrong = tuple(Wrong(text[:_SHOWN]) for text in one["failureMessages"])
            if one["status"] != "passed" and not wrong:
                wrong = (Wrong(f"It did not run: {one['status']}."),)
            outcomes.append(Outcome("web", f"vitest: {name}: {one['fullName']}", (one.get("duration") or 0) / 1000, wrong))
    if not result["success"] and all(outcome.passed for outcome in outcomes):
        outcomes.append(Outcome("web", "vitest", 0.0, (Wrong(output[-_SHOWN:]),)))
    return outcomes


def _node(script: str) -> list[str]:
    return [install.npm()[0], f"node_modules/{script}"]
