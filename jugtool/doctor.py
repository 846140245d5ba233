"""What state everything is in, and what is missing."""

from __future__ import annotations

import shutil
import subprocess
import sys

from jugtool import debian, postgres, serve
from jugtool.places import DEMO, PYTHON, ROOT, SHOP, WEB, data_home
from jugtool.say import say


def doctor() -> int:
    """Print the state; 1 if something is missing."""
    missing = debian.missing(browser=True)
    home = debian.postgres_bin()
    version = subprocess.run([str(home / "postgres"), "--version"], capture_output=True, text=True, check=False).stdout.strip() if home else "missing"
    free = shutil.disk_usage(ROOT).free / 2**30
    rows = [
        ("project", str(ROOT)),
        ("data", str(data_home())),
        ("python", sys.version.split()[0]),
        ("environment", str(PYTHON) if PYTHON.exists() else "not made yet; ./jug start makes it"),
        ("postgresql", version),
        ("screens", "built" if (WEB / "dist" / "index.html").exists() else "not built yet; ./jug start builds them"),
        ("free disk", f"{free:.1f} GB" + ("  too little" if free < 2 else "")),
        ("missing packages", ", ".join(missing) or "none"),
    ]
    for data in (SHOP, DEMO):
        port = postgres.running_port(data.cluster)
        alive = serve.serving(data)
        made = "no data yet" if not data.cluster.exists() else "stopped"
        state = f"database on 127.0.0.1:{port}" if port else made
        rows.append((data.name, f"{data.home}  {state}" + (f", app at {alive[1]}" if alive else "")))
    for name, value in rows:
        say(f"{name:>17}  {value}")
    if missing:
        say(f"\nInstall what is missing:  apt-get update && apt-get install -y --no-install-recommends {' '.join(missing)}")
    return 1 if missing or free < 0.5 else 0
