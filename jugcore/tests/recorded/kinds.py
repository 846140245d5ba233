"""The schools of every family, walked: the first of each with its stages, all with their readings and what is said of them."""

from __future__ import annotations

from typing import Any

from jugcore.families.family import Family, School
from jugcore.method.compile import compile_document
from jugcore.method.walk import walk
from jugcore.reading.report import report


def schools(one: Family) -> Any:
    return {school.id: _of(school, whole=school is one.schools[0]) for school in one.schools}


def _of(school: School, *, whole: bool) -> Any:
    found = report(walk(compile_document(school.document))).model_dump(mode="json", exclude_none=True, exclude_defaults=True)
    said: dict[str, Any] = {
        "consequences": [[each["tone"], each["text"]] for each in found["consequences"]],
        "readings": {r["id"]: [r.get("low"), r.get("value"), r.get("high")] for r in found["readings"]},
        "keeping": found.get("keeping"),
    }
    if whole:
        said["read"] = found["readings"]
        said["stages"] = [{name: value for name, value in stage.items() if name != "trace"} for stage in found["stages"]]
    return said
