"""What state everything is in, and what is missing or wrong."""

from __future__ import annotations

import json
import shutil
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

from jugtool import debian, postgres, serve
from jugtool.certificate import Tls
from jugtool.places import DEMO, PYTHON, ROOT, SHOP, WEB, Data, data_home
from jugtool.say import say

#: Below this little is free, and below that too little. [bytes]
_LITTLE, _TOO_LITTLE = 2 * 2**30, 2**29


def doctor() -> int:
    """Print the state; 1 if something is missing or wrong."""
    missing = debian.missing(browser=True)
    home = debian.postgres_bin()
    version = subprocess.run([str(home / "postgres"), "--version"], capture_output=True, text=True, check=False).stdout.strip() if home else "missing"
    rows = [
        ("project", str(ROOT)),
        ("data", str(data_home())),
        ("python", sys.version.split()[0]),
        ("environment", str(PYTHON) if PYTHON.exists() else "not made yet; ./jug start makes it"),
        ("postgresql", version),
        ("screens", "built" if (WEB / "dist" / "index.html").exists() else "not built yet; ./jug start builds them"),
        ("missing packages", ", ".join(missing) or "none"),
    ]
    wrong = [_clock()]
    for title, place in (("free disk, project", ROOT), ("free disk, data", data_home())):
        free = shutil.disk_usage(_there(place)).free
        rows.append((title, f"{free / 2**30:.1f} GB" + ("  too little" if free < _LITTLE else "")))
        if free < _TOO_LITTLE:
            wrong.append(f"The disk of {place} is nearly full.")
    for data in (SHOP, DEMO):
        port = postgres.running_port(data.cluster)
        alive = serve.serving(data)
        made = "no data yet" if not data.cluster.exists() else "stopped"
        state = f"database on 127.0.0.1:{port}" if port else made
        rows.append((data.name, f"{data.home}  {state}" + (f", app at {alive[1]}" if alive else "")))
        wrong += _of(data, None if alive is None else alive[1])
    for name, value in rows:
        say(f"{name:>18}  {value}")
    for words in filter(None, wrong):
        say(f"\nWrong: {words}")
    if missing:
        say(f"\nInstall what is missing:  apt-get update && apt-get install -y --no-install-recommends {' '.join(missing)}")
    return 1 if missing or any(wrong) else 0


def _there(place: Path) -> Path:
    """The nearest directory above that is there."""
    while not place.exists():
        place = place.parent
    return place


def _clock() -> str:
    """A clock that is behind what this project's own files say."""
    newest = max((path.stat().st_mtime for path in (ROOT / "pyproject.toml", ROOT / "CHANGELOG.md")), default=0.0)
    return (
        f"The clock shows {time.strftime('%d %b %Y %H:%M')}, before this project's own files were written." if time.time() < newest - 86_400 else ""
    )


def _of(data: Data, address: str | None) -> list[str]:
    """What is wrong with one of the data directories, and with the app that serves it."""
    wrong = []
    for secret in (data.secret, data.password, data.app_password):
        if secret.exists() and secret.stat().st_mode & 0o077:
            wrong.append(f"Others can read {secret}: chmod 600 {secret}")
        if not secret.exists() and data.cluster.exists() and secret != data.app_password:
            wrong.append(f"{secret} is gone; restore a backup, or put it back.")
    if address is not None:
        wrong += [f"{data.name}, {name}: {words}." for name, words in _ready(data, address).items() if words]
    return wrong


def _ready(data: Data, address: str) -> dict[str, str]:
    """What the running app says of itself."""
    trusts = Tls(data).context() if address.startswith("https:") else None
    try:
        with urllib.request.urlopen(f"{address}/api/ready", timeout=10, context=trusts) as answer:
            found: dict[str, str] = json.load(answer)["checks"]
    except urllib.error.HTTPError as error:
        found = json.load(error)["checks"]
    except (OSError, ValueError) as error:
        return {"app": str(error)}
    return found
