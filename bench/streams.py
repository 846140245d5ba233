"""Twenty live batches, five entries a second each: how late an open page hears of them.

    python -m bench.streams [seconds]

Runs the test that does it, for longer, and writes bench/streams.md.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
TEST = "jugserver.batches.tests.test_stream.Streams.test_twenty_live_batches_lose_and_double_nothing_and_none_waits_for_the_beat"
#: No page may be further behind. [s]
LIMIT_S = 2.0


def main() -> int:
    seconds = sys.argv[1] if len(sys.argv) > 1 else "30"
    with tempfile.TemporaryDirectory() as scratch:
        report = Path(scratch) / "streams.json"
        environment = {**os.environ, "OAKENJUG_STREAM_SECONDS": seconds, "OAKENJUG_STREAM_REPORT": str(report)}
        done = subprocess.run([str(ROOT / "jug"), "test", "server", TEST], env=environment, cwd=ROOT, check=False)
        found = json.loads(report.read_text(encoding="utf-8"))
    latest = found["latest_s"]
    rate = found["entries"] / found["seconds"]
    text = (
        "# Streams\n\nTwenty tablets enter and twenty pages listen; app, database, tablets and pages share this machine's cores.\n\n"
        f"| entries | a second | median | 95 % | latest | latest ÷ {LIMIT_S:g} s |\n| ---: | ---: | ---: | ---: | ---: | ---: |\n"
        f"| {found['entries']} | {rate:.0f} | {found['median_s']:.2f} s | {found['p95_s']:.2f} s | {latest:.2f} s | {latest / LIMIT_S:.2f} |\n"
    )
    (ROOT / "bench" / "streams.md").write_text(text, encoding="utf-8")
    print(text)
    return done.returncode


if __name__ == "__main__":
    sys.exit(main())
