"""Times a drink over four sizes against one size, and its endpoint against its walk.

Run with ``.venv/bin/python -m bench.drinks``; it makes a database of its own and writes bench/drinks.md.
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
ROUNDS = 60
#: Four sizes may take so many times one; the endpoint so many times the walk.
SIZES, ENDPOINT = 1.3, 1.6
#: What a request does besides the walk.
PARTS = (
    ("the site's pantry, kitchen and prices: five queries", "pantry"),
    ("understanding the drink", "compile"), ("the walk", "walk, four sizes"), ("readings, layers, allergens, money, levels", "read"),
)  # fmt: skip


def main() -> int:
    with cluster.throw_away(cluster.made()) as database:
        told = {**os.environ, **database.environment(), "OAKENJUG_MODE": "test", "DJANGO_SETTINGS_MODULE": "jugserver.config.settings"}
        answer = subprocess.run([sys.executable, "-m", "bench.drinks", "worker"], env=told, stdout=subprocess.PIPE, text=True, check=True)
    spent: dict[str, float] = json.loads(answer.stdout.splitlines()[-1])
    rows = [
        ("walk: four sizes against one", spent["walk, four sizes"], spent["walk, one size"], SIZES),
        ("walk and report: four sizes against one", spent["report, four sizes"], spent["report, one size"], SIZES),
        ("endpoint against its walk", spent["endpoint"], spent["walk, four sizes"], ENDPOINT),
        ("endpoint against a bare endpoint and its walk", spent["endpoint"], spent["bare"] + spent["walk, four sizes"], ENDPOINT),
        ("even it out against the walk", spent["even out"], spent["walk, four sizes"], None),
        ("ways against the walk", spent["ways"], spent["walk, four sizes"], None),
    ]  # fmt: skip
    lines = [
        "# Benchmark of drinks", "",
        f"The demo's Ferry Latte (two products of ours, milk to the line, ice; nine cases a size): {ROUNDS} rounds turn by turn, medians. "
        "The endpoint is a whole request with session, policy, pantry and JSON. Milliseconds belong to the machine; the ratios travel.", "",
        "| what | ms | against | times | wanted |", "|---|---:|---:|---:|---:|",
    ]  # fmt: skip
    lines += [f"| {what} | {a:.1f} | {b:.1f} | {a / b:.2f} | {'' if most is None else f'≤ {most:g}'} |" for what, a, b, most in rows]
    over = [what for what, a, b, most in rows if most is not None and a > most * b]
    parts = [(what, spent[key]) for what, key in PARTS]
    rest = spent["endpoint"] - sum(ms for _, ms in parts)
    lines += ["", "What the endpoint is made of:", "", "| part | ms |", "|---|---:|"]
    lines += [f"| {what} | {ms:.1f} |" for what, ms in [*parts, ("session, person, policy, reading what was sent, the answer", rest)]]
    lines += ["", f"Not met: {'; '.join(over)}." if over else "All that is wanted is met."]
    text = "\n".join(lines) + "\n"
    print(text)
    (HERE / "drinks.md").write_text(text, encoding="utf-8")
    return 0


def worker() -> None:
    """Make the demo, and print the median milliseconds of each as JSON."""
    import django

    django.setup()
    from django.conf import settings
    from django.test import Client

    from jugcore.drinks.cup import cup_of
    from jugcore.drinks.document import DrinkDocument, load_drink
    from jugcore.drinks.poured import pour
    from jugcore.drinks.report import drink_sizes_report
    from jugserver.accounts.models import User
    from jugserver.demo.load import load
    from jugserver.drinks.models import Drink
    from jugserver.drinks.pouring import in_pantry

    settings.ALLOWED_HOSTS = ["*"]
    load()
    lead = User.objects.get(username="ines")
    site = lead.site
    assert site is not None
    client = Client()
    client.force_login(lead, backend="jugserver.accounts.backends.PersonBackend")
    raw: dict[str, Any] = Drink.objects.get(name="Ferry Latte").saves.get().document

    def only(drink: DrinkDocument, size: str) -> DrinkDocument:
        parts = [
            each.model_copy(update={"amounts": {id: text for id, text in each.amounts.items() if id == size}})
            for each in drink.components
        ]  # fmt: skip
        sizes = tuple(each for each in drink.sizes if each.id == size)
        return drink.model_copy(update={"sizes": sizes, "components": tuple(each for each in parts if each.amounts)})

    # Everything in every size, so that one size has the same stages as four.
    drink = load_drink(raw)
    missing = {"milk": "to the line", "cold": "10 ml", "ice": "20 g"}
    full = tuple(
        each.model_copy(update={"amounts": {size.id: each.amounts.get(size.id) or missing[each.id] for size in drink.sizes}})
        for each in drink.components
    )
    sent = drink.model_copy(update={"components": full})
    whole = in_pantry([sent], site)[0]
    raw = sent.model_dump(mode="json")
    four, one = cup_of(whole), cup_of(only(whole, "regular"))

    def post(path: str, body: Any) -> Callable[[], object]:
        def asked() -> None:
            answer = client.post(path, json.dumps(body), content_type="application/json")
            assert answer.status_code == 200, answer.content[:300]

        return asked

    todo: dict[str, Callable[[], object]] = {
        "pantry": lambda: in_pantry([sent], site),
        "compile": lambda: cup_of(whole),
        "walk, four sizes": lambda: pour(four),
        "walk, one size": lambda: pour(one),
        "report, four sizes": lambda: drink_sizes_report(four),
        "report, one size": lambda: drink_sizes_report(one),
        "bare": lambda: client.get("/api/v1/kitchen"),
        "endpoint": post("/api/v1/drinks/sizes", raw),
        "even out": post("/api/v1/drinks/even-out", {"document": raw, "ask": {"component": "dose"}}),
        "ways": post("/api/v1/drinks/ways", {"document": raw, "ask": {"size": "regular", "reading": "sugars_100ml", "value": 7.5}}),
    }
    spent: dict[str, list[float]] = {what: [] for what in todo}
    for turn in range(ROUNDS + 5):
        for what, did in todo.items():
            began = time.perf_counter()
            did()
            if turn >= 5:
                spent[what].append(1000 * (time.perf_counter() - began))
    medians = {what: statistics.median(each) for what, each in spent.items()}
    print(json.dumps({**medians, "read": medians["report, four sizes"] - medians["walk, four sizes"]}))


if __name__ == "__main__":
    if len(sys.argv) > 1:
        worker()
    else:
        sys.exit(main())
