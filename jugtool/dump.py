"""A dump of the demo's database as readable SQL, for the tests that open earlier releases' data."""

from __future__ import annotations

from jugtool import debian, install, postgres
from jugtool.places import DEMO, ROOT
from jugtool.say import Failed, say

DUMPS = ROOT / "jugserver" / "demo" / "dumps"


def dump(name: str) -> int:
    """Write the demo's data as it is now to ``jugserver/demo/dumps/<name>.sql``; never over another."""
    target = DUMPS / f"{name}.sql"
    if target.exists():
        raise Failed("Dumping", f"{target} is there already; a landed dump is never changed.", "choose another name.")
    debian.ensure()
    install.python_packages("app")
    port, started = postgres.start(DEMO)
    try:
        text = postgres.client(
            DEMO,
            port,
            "pg_dump",
            "--inserts",
            "--no-owner",
            "--no-privileges",
            "--no-comments",
            "--exclude-table-data=accounts_session",
            "--exclude-table-data=django_session",
        )
    finally:
        if started:
            postgres.stop(DEMO)
    # Comments tell the machine's versions, and the backslash lines are for psql alone.
    lines = [line for line in text.splitlines() if line and not line.startswith(("--", "\\"))]
    target.write_text("\n".join(lines) + "\n", encoding="utf-8")
    say(f"wrote {target.relative_to(ROOT)}, {len(lines)} lines")
    return 0
