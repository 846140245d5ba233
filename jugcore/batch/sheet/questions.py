"""A question between two tablets, in words, with what may be answered."""

from __future__ import annotations

from jugcore.batch.actual.actual_batch import ActualBatch
from jugcore.batch.log import events as e
from jugcore.batch.log.concurrent_entries import Choice, Question
from jugcore.batch.sheet.schema import QuestionChoice, QuestionReport
from jugcore.figures import shown

#: What is asked, by the kind of entry. “{about}” is the line or the step, “{said}” what was entered by whom.
_ASKED = {
    "weighed": "{about}: {said}. Which went in, or did both?",
    "gave": "{about}: {said}. Which is it?",
    "bottled": "{about}: {said}, entered without knowing of each other. Are they the same, or were both filled?",
    "left_over": "{about}: {said}, entered without knowing of each other. Is it the same, or was both left over?",
    "kept_aside": "{about}: {said}, entered without knowing of each other. Is it the same, or was both kept?",
    "wasted": "Thrown away: {said}, entered without knowing of each other. Is it the same, or was it both?",
    "pot_weighed": "{about}, the pot: {said} at once. Which is it?",
    "probed": "{about}, the probe: {said} at once. Which is it?",
    "refracted": "{about}, the refractometer: {said} at once. Which is it?",
    "reckoned": "{about}: {said}. What strength is used for it?",
    "swapped": "{about}: {said}. Which went in?",
    "plan": "Two ways were chosen: {said}. Which one is followed?",
    "closed": "The batch: {said}. Which is it?",
}
_BOTH = {
    "weighed": "Both went in", "bottled": "Both were filled", "left_over": "Both were left over", "kept_aside": "Both were kept",
    "wasted": "Both were thrown away",
}  # fmt: skip


def question_report(batch: ActualBatch, question: Question) -> QuestionReport:
    """The question with its choices, each named by what was entered and by whom."""
    method = batch.method
    titles = {**{stage.id: stage.name or stage.title for stage in method.stages}, **method.titles}
    choices = [
        QuestionChoice(entry=choice.entry.event.id, by=choice.entry.event.by, at=choice.entry.event.at, words=_words(batch, choice))
        for choice in question.choices
    ]
    said = " and ".join(f"{choice.words} by {choice.by}" for choice in choices)
    words = _ASKED[question.kind].format(about=titles.get(question.about, question.about), said=said)
    return QuestionReport(id=question.id, words=words, choices=choices, may_add=question.may_add, both=_BOTH.get(question.kind, "Both"))


def unknown(batch: ActualBatch) -> list[QuestionReport]:
    """What went in instead of something and nobody knows anything of: no figure, allergen or date counts it."""
    titles = batch.planned.method.titles
    found = []
    for line, swap in batch.record.swaps.items():
        if line not in titles or batch.knows(swap):
            continue
        name = swap.substance.replace("_", " ")
        words = (
            f"{titles[line]}: “{name}” went in instead, and nothing is known of it. Its figures, allergens and date count nowhere here: "
            "put it into the pantry, and enter once more what went in."
        )
        found.append(QuestionReport(id=f"unknown:{line}", words=words, choices=[], may_add=False, both=""))
    return found


def waiting(batch: ActualBatch) -> list[QuestionReport]:
    """What was answered about its keeping, allows more than the answers before it, and was entered by nobody who may say what is served."""
    return [
        QuestionReport(
            id=f"waiting:{entry.event.id}", choices=[], may_add=False, both="",
            words=f"“{entry.event.what.words(e.Names(str, str))}”, entered by {entry.event.by}, allows more than the answers before it. "
            "It counts once a lead has entered it too.",
        )
        for entry in batch.waiting
    ]  # fmt: skip


def _words(batch: ActualBatch, choice: Choice) -> str:
    what = choice.entry.event.what
    match what:
        case e.PutRight():
            return what.title
        case e.Swapped():
            book = what.facts.title if what.facts is not None else None
            known = batch.document.substances.get(what.substance)
            return book or (known.title if known is not None else what.substance.replace("_", " "))
        case e.Closed():
            return "finished" if what.outcome == "finished" else f"stopped, {what.reason}"
        case e.Reckoned() | e.Refracted():
            return f"{shown(choice.value)} °Bx"
        case e.Probed():
            return f"{shown(choice.value)} °C"
        case e.PotWeighed():
            return f"{shown(what.reads_g)} g"
        case e.Weighed() if what.more:
            return f"another {shown(choice.value)} g"
        case e.Bottled():
            return f"{shown(choice.value)} g filled"
        case _:
            return f"{shown(choice.value)} g"
