"""The demo's benchmark: one bought thing by its label, its price, and what two people tasted beside ours."""

from __future__ import annotations

import json
from collections.abc import Mapping
from datetime import timedelta
from pathlib import Path
from uuid import UUID

from django.utils import timezone

from jugcore.tasting.sheet import BenchmarkDoc
from jugserver.accounts.models import User
from jugserver.tastings.models import Benchmark
from jugserver.tastings.services import save_benchmark

_TOLD = Path(__file__).parent / "benchmarks.json"


def load_benchmarks(lead: User, formulas: Mapping[str, UUID]) -> None:
    """Write the benchmarks down, unless the site has any; each was tasted beside a first version."""
    if Benchmark.objects.filter(site=lead.site).exists():
        return
    today = timezone.localdate()
    for told in json.loads(_TOLD.read_text(encoding="utf-8")):
        document = told["document"]
        for sheet, days in zip(document["sheets"], told["days_ago"], strict=True):
            sheet["on"] = (today - timedelta(days=days)).isoformat()
        if told["beside"] in formulas:
            document["beside"] = {"formula": str(formulas[told["beside"]]), "version": 1}
        save_benchmark(actor=lead, id=None, number=0, document=BenchmarkDoc.model_validate(document))
