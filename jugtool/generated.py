"""Files that are written from the code and committed, so that a change of the code shows in them."""

from __future__ import annotations

import json
import os
import subprocess
import tempfile
from pathlib import Path

from jugtool import install
from jugtool.places import PYTHON, ROOT, WEB
from jugtool.say import Failed, say

OPENAPI = ROOT / "docs" / "openapi.json"
TYPES = WEB / "src" / "api" / "schema.d.ts"
#: What the core describes, by the name ``./jug core schema`` knows it by.
SCHEMAS = {name: ROOT / "docs" / "schema" / file for name, file in (
    ("document", "method.schema.json"), ("report", "report.schema.json"), ("solve-request", "solve-request.schema.json"),
    ("solve", "solve.schema.json"), ("suggestions", "suggestions.schema.json"), ("scale-request", "scale-request.schema.json"),
    ("scale", "scale.schema.json"), ("batch", "batch.schema.json"), ("sheet", "sheet.schema.json"), ("rescue", "rescue.schema.json"),
    ("drink", "drink.schema.json"), ("sizes", "sizes.schema.json"),
    ("benchmark", "benchmark.schema.json"), ("aim", "aim.schema.json"), ("forecast-request", "forecast-request.schema.json"),
    ("forecast", "forecast.schema.json"), ("plan-request", "plan-request.schema.json"), ("plan", "plan.schema.json"),
)}  # fmt: skip


def generated() -> dict[Path, str]:
    """Every generated file, as the code writes it now."""
    install.web_packages()
    found: dict[Path, str] = {}
    description = _output([str(PYTHON), "manage.py", "export_openapi_schema", "--api", "jugserver.config.api.api", "--indent", "2"])
    found[OPENAPI] = _written(json.loads(description))
    schemas = json.loads(_output([str(PYTHON), "-m", "jugcore", "schema", *SCHEMAS]))
    found |= {path: _written(schemas[name]) for name, path in SCHEMAS.items()}
    with tempfile.TemporaryDirectory() as scratch:
        source, target = Path(scratch) / "openapi.json", Path(scratch) / "schema.d.ts"
        source.write_text(found[OPENAPI], encoding="utf-8")
        script = "node_modules/openapi-typescript/bin/cli.js"
        _output([install.npm()[0], script, str(source), "-o", str(target)], cwd=WEB, env=install.node_environment())
        found[TYPES] = target.read_text(encoding="utf-8")
    return found


def _written(what: object) -> str:
    return json.dumps(what, indent=2, ensure_ascii=False) + "\n"


def _output(command: list[str], *, cwd: Path = ROOT, env: dict[str, str] | None = None) -> str:
    ours = {**os.environ, "PYTHONPATH": str(ROOT), "DJANGO_SETTINGS_MODULE": "jugserver.config.settings", "OAKENJUG_MODE": "test"}
    done = subprocess.run(command, cwd=cwd, env=env or ours, capture_output=True, text=True, check=False)
    if done.returncode != 0:
        raise Failed(f"“{' '.join(command[-4:])}”", (done.stderr + done.stdout)[-1500:], "mend what it names.")
    return done.stdout


def write() -> int:
    """Write the generated files anew."""
    install.python_packages("dev")
    for path, text in generated().items():
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text, encoding="utf-8")
        say(f"wrote {path.relative_to(ROOT)}")
    return 0
