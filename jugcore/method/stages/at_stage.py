"""What a stage's own words are made of: the walk where the stage stands in it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from jugcore.method.kitchen import Kitchen
from jugcore.method.phrases import spelt_span
from jugcore.method.stages.step import Step
from jugcore.method.walked_method import WalkedMethod


@dataclass(frozen=True)
class AtStage:
    """A walk at one stage, its first case.

    ``grams`` gives the grams of a line or a join; at the hob those to weigh, which may differ from those that were walked.
    """

    method: WalkedMethod
    kitchen: Kitchen
    step: Step
    grams: Callable[[str], float]

    @property
    def minutes(self) -> str:
        """How long the stage takes, in words."""
        return spelt_span(self.step.duration_s)

    def sieve_name(self, id: str | None) -> str:
        """What the kitchen calls a sieve; “a sieve” where it names none."""
        return next((sieve.name for sieve in self.kitchen.sieves if sieve.id == id), "a sieve")

    def mesh(self, id: str | None) -> str:
        """The opening of a sieve in words."""
        return next((f"{sieve.mesh_um:g} µm" for sieve in self.kitchen.sieves if sieve.id == id), "through a sieve")
