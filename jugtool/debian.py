"""Debian packages: which are missing, and getting them."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

from jugtool.say import Failed, say

_SBIN = f"{os.environ.get('PATH', '')}:/usr/sbin:/sbin"
_NO_CLUSTER = Path("/etc/postgresql-common/createcluster.d/no-main.conf")


#: Letters of scripts that the paper's own fonts lack, by a file of the package.
FONTS = {
    "fonts-noto-core": Path("/usr/share/fonts/truetype/noto/NotoSansArabic-Regular.ttf"),
    "fonts-droid-fallback": Path("/usr/share/fonts/truetype/droid/DroidSansFallbackFull.ttf"),
    "fonts-nanum": Path("/usr/share/fonts/truetype/nanum/NanumGothic.ttf"),
}


def postgres_bin() -> Path | None:
    """The directory of the newest PostgreSQL server programs, or None."""
    found = sorted(Path("/usr/lib/postgresql").glob("*/bin/initdb"), key=lambda p: int(p.parts[-3]) if p.parts[-3].isdigit() else 0)
    if found:
        return found[-1].parent
    on_path = shutil.which("initdb")
    return Path(on_path).resolve().parent if on_path else None


def _has_venv() -> bool:
    """Whether the Python that runs this, which makes the environment, can."""
    probe = subprocess.run([sys.executable, "-c", "import ensurepip, venv"], capture_output=True, check=False)
    return probe.returncode == 0


def chromium() -> Path | None:
    """Debian's headless Chromium: the one that is nothing else, which takes a third less, or else the whole browser."""
    return next((path for path in map(Path, ("/usr/bin/chromium-headless-shell", "/usr/bin/chromium")) if path.exists()), None)


def missing(*, browser: bool, proxy: bool = False) -> list[str]:
    """Debian packages that are needed and not there."""
    needed = []
    if not _has_venv():
        needed.append("python3-venv")
    if postgres_bin() is None:
        needed.append("postgresql")
    if not list(Path("/usr/lib").glob("*/libatomic.so.1*")):
        needed.append("libatomic1")
    if not Path("/etc/ssl/certs/ca-certificates.crt").exists():
        needed.append("ca-certificates")
    if shutil.which("openssl") is None:
        needed.append("openssl")
    needed += [package for package, file in FONTS.items() if not file.exists()]
    if browser and chromium() is None:
        needed.append("chromium-headless-shell")
    if proxy and shutil.which("nginx", path=_SBIN) is None:
        needed.append("nginx-light")
    return needed


def ensure(*, browser: bool = False, proxy: bool = False) -> None:
    """Install what is missing as root; without root say the exact command and fail."""
    needed = missing(browser=browser, proxy=proxy)
    if not needed:
        return
    command = f"apt-get install -y --no-install-recommends {' '.join(needed)}"
    if os.geteuid() != 0:
        raise Failed(
            "Installing Debian packages", f"{', '.join(needed)} missing, and this is not root.",
            f"run  sudo apt-get update && sudo {command}  and try again.",
        )  # fmt: skip
    if shutil.which("apt-get") is None:
        raise Failed("Installing Debian packages", "there is no apt-get here.", f"install {', '.join(needed)} by hand.")
    say(f"Installing {', '.join(needed)} …")
    if "postgresql" in needed:
        # The package would start a cluster of its own on 5432; ours has its own place.
        _NO_CLUSTER.parent.mkdir(parents=True, exist_ok=True)
        _NO_CLUSTER.write_text("create_main_cluster = false\n", encoding="ascii")
    environment = {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}
    for step in (["apt-get", "update", "-qq"], command.split()):
        done = subprocess.run(step, env=environment, capture_output=True, text=True, check=False)
        if done.returncode != 0:
            raise Failed(f"“{' '.join(step)}”", (done.stderr or done.stdout).strip()[-600:], "read the message above and try again.")
