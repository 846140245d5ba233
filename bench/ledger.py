"""Times what is on hand, and an entry, with a ledger of a thousand movements and with one of a million, as much of it there.

Run with ``.venv/bin/python -m bench.ledger``; it makes databases of its own and writes bench/ledger.md.
"""

from __future__ import annotations

import json
import os
import statistics
import subprocess
import sys
import time
from pathlib import Path
from typing import Any
from uuid import uuid4

from jugtool.testing import cluster

HERE = Path(__file__).parent
#: Movements of bottles that are gone; and bottles that are there, whatever went before.
SMALL, LARGE, THERE, EACH = 1_000, 1_000_000, 60, 10
ROUNDS, WANTED = 60, 1.5


def main() -> int:
    with cluster.throw_away(cluster.made()) as small, cluster.throw_away(cluster.made()) as large:
        workers = [_started(small.environment(), SMALL), _started(large.environment(), LARGE)]
        spent: dict[str, tuple[list[float], list[float]]] = {}
        for turn in range(ROUNDS + 5):
            for what in ("on hand", "one entry", "one bottle"):
                for number, worker in enumerate(workers):
                    took = _ask(worker, what)
                    if turn >= 5:
                        spent.setdefault(what, ([], []))[number].append(took)
        for worker in workers:
            assert worker.stdin is not None
            worker.stdin.close()
            worker.wait(30)
    lines = [
        "# Benchmark of the ledger", "",
        f"{THERE} bottles that are there, behind a ledger of {SMALL:,} movements of bottles that are gone and behind one of {LARGE:,}: "
        f"whole requests with session, policy and JSON, {ROUNDS} rounds turn by turn, medians. "
        "Milliseconds belong to the machine; the ratios travel.", "",
        "| what | short ledger | long ledger | times |", "|---|---:|---:|---:|",
    ]  # fmt: skip
    over = 0
    for what, both in spent.items():
        little, much = (statistics.median(times) for times in both)
        over += much > WANTED * little
        lines.append(f"| {what} | {little:.1f} | {much:.1f} | {much / little:.2f} |")
    lines += ["", f"Wanted within {WANTED} times: {len(spent) - over} of {len(spent)} are."]
    text = "\n".join(lines) + "\n"
    print(text)
    (HERE / "ledger.md").write_text(text, encoding="utf-8")
    return 1 if over else 0


def _started(environment: dict[str, str], movements: int) -> subprocess.Popen[str]:
    told = {**os.environ, **environment, "OAKENJUG_MODE": "test", "DJANGO_SETTINGS_MODULE": "jugserver.config.settings"}
    command = [sys.executable, "-m", "bench.ledger", str(movements)]
    process = subprocess.Popen(command, env=told, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    process.stdout.readline()
    return process


def _ask(worker: subprocess.Popen[str], what: str) -> float:
    assert worker.stdin is not None and worker.stdout is not None
    worker.stdin.write(f"{what}\n")
    worker.stdin.flush()
    return float(worker.stdout.readline())


def worker(movements: int) -> None:
    """Make a site with such a ledger, then answer line by line with milliseconds."""
    import django

    django.setup()
    from django.conf import settings
    from django.db import connection
    from django.test import Client

    from jugserver.accounts.models import User
    from jugserver.demo.load import load, load_batches
    from jugserver.stock.models import Container

    settings.ALLOWED_HOSTS = ["*"]
    load()
    load_batches()
    lead = User.objects.get(username="ines")
    client = Client()
    client.force_login(lead, backend="jugserver.accounts.backends.PersonBackend")
    model = Container.objects.filter(gone="").select_related("batch").first()
    assert model is not None
    columns = (
        "site_id, batch_id, formula_id, entry, kind, made_on, filled_g, last_day, last_day_why, place_id, frozen, poured_g, served_g, why, too_late"
    )
    with connection.cursor() as cursor:
        for gone, count, first in (("emptied", movements // EACH, 1_000), ("", THERE, 500)):
            cursor.execute(
                f"insert into stock_container (id, {columns}, number, mass_g, gone, gone_at, good_until, last_seq) "
                f"select gen_random_uuid(), {columns}, %s + n, %s, %s, %s, good_until, %s "
                "from stock_container, generate_series(1, %s) n where id = %s",
                [first, 0.0 if gone else 300.0, gone, model.batch.started_at if gone else None, EACH, count, model.pk],
            )
        cursor.execute(
            "insert into stock_movement (id, container_id, seq, kind, what, at, by_id, received_at) "
            'select gen_random_uuid(), c.id, n, \'weighed\', \'{"kind": "weighed", "mass_g": 300}\', now(), %s, now() '
            "from stock_container c, generate_series(1, %s) n where c.number > 500",
            [lead.pk, EACH],
        )
        cursor.execute("analyze")
    there: Any = Container.objects.filter(gone="", number__gt=500).values_list("pk", flat=True)[0]

    def entered() -> None:
        now = "2026-03-02T08:00:00Z"
        entry = {"container": str(there), "movement": {"id": str(uuid4()), "at": now, "what": {"kind": "weighed", "mass_g": 250}}}
        assert client.post("/api/v1/stock/entries", json.dumps({"entries": [entry]}), content_type="application/json").status_code == 200

    def seen(path: str) -> None:
        assert client.get(path).status_code == 200

    asks = {"on hand": lambda: seen("/api/v1/stock"), "one entry": entered, "one bottle": lambda: seen(f"/api/v1/stock/containers/{model.pk}")}
    print("ready", flush=True)
    for line in sys.stdin:
        began = time.perf_counter()
        asks[line.rstrip("\n")]()
        print(1000 * (time.perf_counter() - began), flush=True)


if __name__ == "__main__":
    if len(sys.argv) == 2:
        worker(int(sys.argv[1]))
    else:
        sys.exit(main())
