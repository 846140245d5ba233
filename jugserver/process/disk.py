"""The disk the data is on."""

from __future__ import annotations

import shutil
from pathlib import Path

from jugserver.process.environment import environment

#: With less than this nothing is kept safely any more. [bytes]
LEAST_FREE = 200 * 1024 * 1024


def nearly_full() -> str:
    """How little is free, in words; nothing where there is enough."""
    free = shutil.disk_usage(environment().data_dir or Path(__file__).anchor).free
    return f"{free // (1024 * 1024)} MB are free" if free < LEAST_FREE else ""
