"""What to do while a pot takes its time: what the stages after it need, as far as the next wait."""

from __future__ import annotations

from collections.abc import Callable

from jugcore.method.stages import Step
from jugcore.method.walk import Walk

#: A stage that leaves the hands free this long has room for something else. [s]
WAITS_S = 120.0
_MOST = 4


def waits(step: Step) -> bool:
    """Whether a stage leaves the hands free for a while."""
    return float(step.duration_s[0, 1] - step.hands_s[0, 1]) >= WAITS_S


def parallel_tasks(walked: Walk, index: int, is_done: Callable[[str], bool]) -> list[str]:
    """What can be made ready during a stage; nothing for one that keeps the hands busy."""
    stages, steps = walked.stages, walked.steps
    if not waits(steps[index]):
        return []
    found: list[str] = []
    for stage, step in zip(stages[index + 1 :], steps[index + 1 :], strict=True):
        if is_done(stage.id):
            continue
        words = stage.preparation(walked.at(stage))
        if words:
            found.append(words)
        if stage.runs_by_itself and waits(step):
            break
    return found[:_MOST]
