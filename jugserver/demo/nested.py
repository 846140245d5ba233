"""What of the demo is made of what is made here: a sweet cream sweetened with the shop's own syrup, a foam beaten from that cream."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from jugcore.method.document import MethodDocument
from jugcore.method.load_document import load_document
from jugserver.accounts.models import Site, User
from jugserver.demo.documents import demo_document
from jugserver.formulas.made_here import catch_up, made_key
from jugserver.formulas.models import Formula
from jugserver.formulas.services import save_draft
from jugserver.formulas.versions import save_version


@dataclass(frozen=True)
class _Next:
    """What the second version of a formula changes."""

    stage: str
    #: Lines and stages that are no longer there.
    out: frozenset[str]
    #: Id, formula of the demo or ingredient, amount.
    lines: tuple[tuple[str, str, str], ...]
    note: str


_NEXT = {
    "fennel-sweet-cream": _Next(
        "start", frozenset({"cream", "milk", "sugar"}),
        (("cream", "heavy_cream", "600 g"), ("milk", "whole_milk", "190 g"), ("syrup", "weir-simple", "230 g")),
        "Sweetened with Weir Simple: nothing to dissolve.",
    ),
    "rose-cardamom-foam": _Next(
        "base", frozenset({"cream", "milk", "sugar", "chill"}), (("sweet-cream", "fennel-sweet-cream", "332 g"),),
        "Beaten from the sweet cream of the week, cold as it is.",
    ),
}  # fmt: skip


def load_nested(lead: User) -> None:
    """Save the second versions, each pinned to the newest of what it is made of, where nobody has changed the first."""
    site = lead.site
    assert site is not None
    catch_up()  # of a demo loaded by an earlier release
    for name, next_ in _NEXT.items():
        formula = Formula.objects.filter(site=site, name=demo_document(name).name, draft=1).first()
        if formula is None or formula.versions.count() != 1:
            continue
        draft = save_draft(actor=lead, id=formula.pk, draft=1, document=_next(name, site)).draft
        save_version(actor=lead, id=formula.pk, draft=draft, note=next_.note)


def _next(name: str, site: Site) -> MethodDocument:
    next_ = _NEXT[name]
    raw: dict[str, Any] = demo_document(name).model_dump(mode="json", exclude_none=True)
    raw["stages"] = [stage for stage in raw["stages"] if stage["id"] not in next_.out]
    for stage in raw["stages"]:
        if stage["id"] == next_.stage:
            lines = [{"id": id, "substance": _substance(what, site), "amount": amount} for id, what, amount in next_.lines]
            stage["lines"] = [*lines, *(line for line in stage["lines"] if line["id"] not in next_.out)]
    return load_document(raw)


def _substance(what: str, site: Site) -> str:
    """A formula of the demo by its newest version, else an ingredient."""
    if "-" not in what:
        return what
    formula = Formula.objects.get(site=site, name=demo_document(what).name)
    return made_key(formula.pk, formula.versions.first().number)  # type: ignore[union-attr]  # it was kept above
