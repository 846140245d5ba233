"""Times lists, searches, Today, the CSV's start and the walk of a site with a hundred batches and formulas, and of one that has grown.

Run with ``.venv/bin/python -m bench.growth``; it makes a database of its own and writes bench/growth.md.
"""

from __future__ import annotations

import json
import os
import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from jugtool.testing import cluster

HERE = Path(__file__).parent
#: Batches and formulas, before and after.
SMALL, LARGE = (100, 100), (100_000, 10_000)
ROUNDS = 40
WANTED = 1.5
_ENTRIES_EACH = 4


def main() -> int:
    with cluster.throw_away(cluster.made()) as small, cluster.throw_away(cluster.made()) as large:
        workers = [_Worker(small.environment(), *SMALL), _Worker(large.environment(), *LARGE)]
        asks = workers[0].told()
        workers[1].told()
        spent: dict[str, tuple[list[float], list[float]]] = {what: ([], []) for what in asks}
        # Turn by turn at the one and the other, so that a machine that slows down slows both.
        for turn in range(ROUNDS + 5):
            for what in asks:
                times = [worker.ask(what) for worker in workers]
                if turn >= 5:
                    for list_, took in zip(spent[what], times, strict=True):
                        list_.append(took)
        for worker in workers:
            worker.end()
    lines = [
        "# Benchmark of growth", "",
        f"A site with {SMALL[0]:,} batches and {SMALL[1]:,} formulas against one with {LARGE[0]:,} and {LARGE[1]:,}: whole requests with session, "
        f"policy and JSON, {ROUNDS} rounds turn by turn, medians. Milliseconds belong to the machine; the ratios travel.", "",
        "| what | small | large | times |", "|---|---:|---:|---:|",
    ]  # fmt: skip
    over = 0
    for what, both in spent.items():
        little, much = (statistics.median(times) for times in both)
        over += much > WANTED * little
        lines.append(f"| {what} | {little:.1f} | {much:.1f} | {much / little:.2f} |")
    lines += ["", f"Problem within {WANTED} times: {len(spent) - over} of {len(spent)} are."]
    text = "\n".join(lines) + "\n"
    print(text)
    (HERE / "growth.md").write_text(text, encoding="utf-8")
    return 1 if over else 0


class _Worker:
    """A process at a database of its own, which asks what it is told and says how long that took."""

    def __init__(self, environment: dict[str, str], batches: int, formulas: int) -> None:
        told = {**os.environ, **environment, "OAKENJUG_MODE": "test", "DJANGO_SETTINGS_MODULE": "jugserver.config.settings"}
        command = [sys.executable, "-m", "bench.growth", str(batches), str(formulas)]
        self._process = subprocess.Popen(command, env=told, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)

    def told(self) -> Any:
        assert self._process.stdout is not None
        return json.loads(self._process.stdout.readline())

    def ask(self, what: str) -> float:
        assert self._process.stdin is not None
        self._process.stdin.write(f"{what}\n")
        self._process.stdin.flush()
        return float(self.told())

    def end(self) -> None:
        assert self._process.stdin is not None
        self._process.stdin.close()
        self._process.wait(30)


def worker(batches: int, formulas: int) -> None:
    """Make a site of that size, say what can be asked, then answer line by line with milliseconds."""
    import django

    django.setup()
    site = _Site()
    site.grow(batches, formulas)
    asks, before = site.asks()
    print(json.dumps(list(asks)), flush=True)
    for number, line in enumerate(sys.stdin):
        what = line.rstrip("\n")
        if what in before:
            before[what](number)
        began = time.perf_counter()
        asks[what]()
        print(json.dumps(1000 * (time.perf_counter() - began)), flush=True)


class _Site:
    """The demo's site, and copies of what it cooked."""

    def __init__(self) -> None:
        from django.conf import settings
        from django.test import Client

        from jugserver.accounts.models import User
        from jugserver.demo.load import load, load_batches

        settings.ALLOWED_HOSTS = ["*"]
        load()
        load_batches()
        self.lead = User.objects.get(username="ines")
        assert self.lead.site is not None
        self.site = self.lead.site
        self.client = Client()
        self.client.force_login(self.lead, backend="jugserver.accounts.backends.PersonBackend")

    def grow(self, batches: int, formulas: int) -> None:
        """Copies of batches and formulas, until there are so many; as they would stand after years."""
        from django.db import connection, transaction

        from jugserver.batches.models import Batch
        from jugserver.formulas.models import Formula

        more_formulas, more_batches = (n - model.objects.count() for n, model in ((formulas, Formula), (batches, Batch)))
        with transaction.atomic(), connection.cursor() as cursor:
            # Copies of rows that were refused nothing: triggers would look at each anew.
            cursor.execute("set local session_replication_role = replica")
            cursor.execute(
                """
                create temp table f on commit drop as
                select gen_random_uuid() as new, o.*, g.n from generate_series(1, %s) g(n)
                join (select f.*, row_number() over (order by id) - 1 as at from formulas_formula f) o
                    on o.at = g.n %% (select count(*) from formulas_formula)
                """,
                [more_formulas],
            )
            cursor.execute(
                """
                insert into formulas_formula (id, site_id, name, family, school, draft, created_at, touched_at)
                select new, site_id, left(name, 150) || ' ' || left(new::text, 13), family, school, 1,
                    created_at, touched_at - n * interval '1 hour' from f;
                insert into formulas_draftsave (formula_id, number, document, saved_by_id, saved_at, core_version)
                select f.new, 1, d.document, d.saved_by_id, d.saved_at, d.core_version from f
                join formulas_draftsave d on d.formula_id = f.id and d.number = f.draft;
                insert into formulas_formulastate
                    (formula_id, site_id, name, touched_at, archived, draft, core_version, stale, mark, trouble, gear, equipment_at, uses, search)
                select f.new, s.site_id, left(f.name, 150) || ' ' || left(f.new::text, 13), s.touched_at - f.n * interval '1 hour',
                    false, 1, s.core_version, false, s.mark,
                    case when f.n %% 4 > 0 then 'A made-up fault.' end, s.gear, s.equipment_at + f.n, s.uses, s.search || ' everyday ' || f.n from f
                join formulas_formulastate s on s.formula_id = f.id;
                insert into formulas_version (formula_id, number, draft, note, document, fingerprint, readings, saved_by_id, saved_at, core_version)
                select f.new, 1, 1, v.note, v.document, v.fingerprint, v.readings, v.saved_by_id, v.saved_at, v.core_version from f
                join formulas_version v on v.formula_id = f.id and v.number = 1;
                update formulas_formulasmoved set at = (extract(epoch from clock_timestamp()) * 1000000)::bigint;
                """.replace("%%", "%")
            )
            cursor.execute("select coalesce(max(number), 0) from batches_batch")
            last = cursor.fetchone()[0]
            cursor.execute(
                """
                create temp table b on commit drop as
                select gen_random_uuid() as new, %s + g.n as new_number, g.n, o.id from generate_series(1, %s) g(n)
                join batches_batch o on o.number = 1 + g.n %% 40
                """,
                [last, more_batches],
            )
            cursor.execute(
                f"""
                insert into batches_batch (id, site_id, number, formula_id, version_id, name, document, fingerprint, core_version, started_by_id,
                    started_at, touched_at, last_seq, chain, behind)
                select b.new, o.site_id, b.new_number, o.formula_id, o.version_id, o.name, o.document, o.fingerprint, o.core_version,
                    o.started_by_id, o.started_at - b.n * interval '20 minutes', o.touched_at, {_ENTRIES_EACH}, '', false
                from b join batches_batch o on o.id = b.id;
                insert into batches_logentry (id, batch_id, seq, kind, event, at, sent_by_id, received_at, said_by, by_lead, chain, time_cannot_be)
                select gen_random_uuid(), b.new, e.seq, e.kind, e.event, e.at, e.sent_by_id, e.received_at, '', false, '', false
                from b join batches_logentry e on e.batch_id = b.id and e.seq <= {_ENTRIES_EACH};
                insert into batches_batchstate (batch_id, site_id, started_at, number, seq, shape, status, closed_at, off_plan, cooling_by, use_by,
                    dated, flow, search, summary)
                select b.new, s.site_id, s.started_at - b.n * interval '20 minutes', b.new_number, {_ENTRIES_EACH}, s.shape, s.status, s.closed_at,
                    case when b.n % 4 > 0 then 1 else 0 end, s.cooling_by, s.use_by - (b.n / 70)::int, s.dated, s.flow,
                    s.search || case when b.n = 7 then ' a kingfisher was seen' else '' end, s.summary
                from b join batches_batchstate s on s.batch_id = b.id
                """
            )
        for table in ("formulas_formula", "formulas_formulastate", "formulas_draftsave", "batches_batch", "batches_batchstate", "batches_logentry"):
            with connection.cursor() as cursor:
                cursor.execute(f"vacuum analyze {table}")

    def asks(self) -> tuple[dict[str, Callable[[], Any]], dict[str, Callable[[int], object]]]:
        """What is asked, and what is done before some of it."""
        from jugserver.demo.documents import demo_document

        document = demo_document("weir-simple").model_dump(mode="json")
        middle, batch = self._middle(), self._batch()
        asks: dict[str, Callable[[], Any]] = {
            "batch list": lambda: self.get("batches"),
            "batch list, in the middle": lambda: self.get(f"batches?cursor={middle}"),
            "batches on the hob": lambda: self.get("batches?status=running"),
            "batches off plan": lambda: self.get("batches?off_plan=true"),
            "batches that cool": lambda: self.get("batches?cooling=true"),
            "batches to use by a day": lambda: self.get("batches?use_by=2020-01-01"),
            "batches searched, in many": lambda: self.get("batches?q=ferry"),
            "batches searched, in one": lambda: self.get("batches?q=kingfisher"),
            "batches searched, in none": lambda: self.get("batches?q=heron"),
            "batches searched by number": lambda: self.get("batches?q=77"),
            "CSV, its start": self.csv,
            "formula list": lambda: self.get("formulas"),
            "formulas searched, in many": lambda: self.get("formulas?q=everyday"),
            "formulas searched, in one": lambda: self.get("formulas?q=damson 66"),
            "formulas that need a look": lambda: self.get("formulas?troubled=true"),
            "Today": self.today,
            "a walk": lambda: self.post("walk", document),
            "a walk after a pantry change": lambda: self.post("walk", document),
            "a walk after a formula was put away": lambda: self.post("walk", document),
            "a batch": lambda: self.get(f"batches/{batch}"),
        }
        before: dict[str, Callable[[int], object]] = {
            "a walk after a pantry change": self.pantry_change,
            "a walk after a formula was put away": self.put_away,
        }
        return asks, before

    def get(self, path: str) -> Any:
        answer: Any = self.client.get(f"/api/v1/{path}")
        assert answer.status_code == 200, (path, answer.content[:300])
        return answer

    def post(self, path: str, body: Any) -> Any:
        answer: Any = self.client.post(f"/api/v1/{path}", body, content_type="application/json")
        assert answer.status_code == 200, (path, answer.content[:300])
        return answer

    def today(self) -> None:
        for path in ("formulas", "formulas?troubled=true", "batches?status=running", "batches?cooling=true", "kitchen"):
            self.get(path)

    def csv(self) -> None:
        next(iter(self.get("batches/table.csv").streaming_content))

    def pantry_change(self, turn: int) -> None:
        """The price of sugar stays, and what it is made of is written down anew."""
        from jugcore.matter.substance_document import SubstanceDoc
        from jugserver.pantry.models import Ingredient
        from jugserver.pantry.services import save_ingredient

        row = Ingredient.objects.filter(site=self.site, key="bench_pod").first()
        document = {"title": "Bench pod", "kind": "spice", "composition_g_per_100g": {"water": 8, "insoluble": 92}, "note": f"Look {turn}."}
        number = 0 if row is None else row.number
        save_ingredient(actor=self.lead, key="bench_pod", number=number, document=SubstanceDoc.model_validate(document))

    def put_away(self, turn: int) -> None:
        """A formula that brings nuts to the blender goes, and comes back."""
        from jugserver.formulas.models import Formula
        from jugserver.formulas.services import archive_formula, bring_back_formula

        formula = Formula.objects.get(site=self.site, name="Toasted Hazelnut")
        (archive_formula if formula.archived_at is None else bring_back_formula)(actor=self.lead, id=formula.pk)

    def _middle(self) -> str:
        from jugserver.batches.models import BatchState
        from jugserver.http.paging import cursor_of

        many = BatchState.objects.count()
        row = BatchState.objects.order_by("-started_at")[many // 3]
        return cursor_of(row.started_at, row.batch_id)

    def _batch(self) -> str:
        from jugserver.batches.models import Batch

        return str(Batch.objects.order_by("number")[3].pk)


if __name__ == "__main__":
    if len(sys.argv) == 3:
        worker(int(sys.argv[1]), int(sys.argv[2]))
    else:
        sys.exit(main())
