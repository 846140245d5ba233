"""Times the pantry's search over 500 and over 50,000 ingredients: first twenty hits, three letters and more, warm. Prints the ratio.

Run with ``./jug dev``'s settings and a database of its own: ``.venv/bin/python -m bench.search``; it writes bench/search.md.
"""

from __future__ import annotations

import os
import statistics
import time
from pathlib import Path
from random import Random

from jugtool.testing import cluster

HERE = Path(__file__).parent
SIZES = (500, 50_000)
ROUNDS = 60
#: Words the made-up names are built of, so that three letters find as many in a thousand of a small pantry as of a large one.
_WORDS = (
    "amber", "birch", "cedar", "dusk", "ember", "fern", "glade", "hazel", "ivory", "juniper", "kelp", "larch", "moss", "nettle", "oak", "pine",
    "quartz", "reed", "sage", "thistle", "umber", "vetch", "willow", "yarrow",
)  # fmt: skip
_KINDS = ("syrup", "sugar", "powder", "cream", "juice", "purée", "spice", "leaf", "bark", "root", "seed", "oil", "drink", "paste", "essence")
QUERIES = ("ced", "cedar", "jun syr", "thi", "will pow", "oak", "yarrow crea", "qua", "bir jui", "zzz")
WANTED = 1.5


def main() -> None:
    with cluster.throw_away(cluster.made()) as migrated:
        os.environ |= {**migrated.environment(), "OAKENJUG_MODE": "test", "DJANGO_SETTINGS_MODULE": "jugserver.config.settings"}
        import django

        django.setup()
        rows = measured()
    lines = [
        "# Benchmark of the pantry's search", "",
        f"{ROUNDS} rounds over {len(QUERIES)} texts of three letters and more, first twenty hits, warm: the search by itself with the shapes of its "
        "answer, and the whole request with session, policy and JSON. Milliseconds belong to the machine; the ratios travel.", "",
        "| what | ingredients | median | slowest tenth |", "|---|---:|---:|---:|",
    ]  # fmt: skip
    for what in ("the search", "the request"):
        medians = []
        for size, times in rows:
            spent = sorted(times[what])
            medians.append(statistics.median(spent))
            lines.append(f"| {what} | {size:,} | {medians[-1]:.2f} | {spent[int(0.9 * len(spent))]:.2f} |")
        lines.append(f"| {what}, 50,000 against 500 | | {medians[1] / medians[0]:.2f} times | wanted within {WANTED} |")
    text = "\n".join(lines) + "\n"
    print(text)
    (HERE / "search.md").write_text(text, encoding="utf-8")


def measured() -> list[tuple[int, dict[str, list[float]]]]:
    """Milliseconds of every search, by how many ingredients there are."""
    from django.core.management import call_command
    from django.db import connection
    from django.test import Client

    from jugcore.matter.search_text import plain, searchable
    from jugserver.accounts.models import Role, Site, User
    from jugserver.pantry.models import Ingredient
    from jugserver.pantry.search import search
    from jugserver.pantry.shapes import hit_out

    call_command("migrate", verbosity=0)
    rng = Random(4)
    site = Site.objects.create(name="Bench")
    person = User.objects.create_user("bench", password="a-long-bench-password", site=site, role=Role.VIEW, display_name="Bench")
    client = Client(HTTP_HOST="127.0.0.1")
    client.force_login(person, backend="jugserver.accounts.backends.PersonBackend")
    found = []
    have = Ingredient.objects.count()
    for size in SIZES:
        new = []
        for n in range(have, size):
            title = f"{rng.choice(_WORDS)} {rng.choice(_WORDS)} {rng.choice(_KINDS)} {n}"
            document = {"title": title, "composition_g_per_100g": {"water": 100}}
            names = {"title": title, "sort": plain(title), "words": searchable((title,))}
            new.append(Ingredient(site=site, key=f"own_{n}", kind="other", basis="estimate", document=document, **names))
        Ingredient.objects.bulk_create(new, batch_size=5000)
        have = size
        with connection.cursor() as cursor:
            cursor.execute("VACUUM ANALYZE pantry_ingredient")
        times: dict[str, list[float]] = {"the search": [], "the request": []}
        for number in range(ROUNDS + 5):
            for query in QUERIES:
                began = time.perf_counter()
                [hit_out(row) for row in search(site, query)]
                between = time.perf_counter()
                client.get("/api/v1/substances", {"q": query})
                if number >= 5:
                    times["the search"].append(1000 * (between - began))
                    times["the request"].append(1000 * (time.perf_counter() - between))
        found.append((size, times))
    return found


if __name__ == "__main__":
    main()
