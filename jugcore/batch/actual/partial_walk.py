"""A walk as if it ended with one of its stages."""

from __future__ import annotations

from dataclasses import replace

from jugcore.method.walk import Walk


def as_if_ended(walked: Walk, stage_id: str) -> Walk:
    """The walk up to a stage, whose vessel is then the product: so that every reading can be read of it."""
    index = next(i for i, stage in enumerate(walked.stages) if stage.id == stage_id)
    method = replace(walked.method, product=walked.stages[index].writes())
    return replace(walked, method=method, steps=walked.steps[: index + 1], stages=walked.stages[: index + 1])
