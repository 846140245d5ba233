"""Errors a person may meet: each says where, what is wrong and what to do."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np
from numpy.typing import ArrayLike

from jugcore.figures import Floats, shown


@dataclass(eq=False)
class DomainError(Exception):
    """A request the job cannot satisfy; every text in it is safe to show."""

    code: ClassVar[str] = "domain_error"
    field: str
    message: str
    remedy: str

    def __str__(self) -> str:
        return f"{self.message} {self.remedy}"

    def __reduce__(self) -> tuple[Any, ...]:
        return type(self), (self.field, self.message, self.remedy)

    def at_field(self, field: str) -> DomainError:
        """The same refusal at another field."""
        return type(self)(field, self.message, self.remedy)


class OutOfRange(DomainError):
    """A number lies outside the range in which a model or a field holds."""

    code = "out_of_range"


class BadDocument(DomainError):
    """A method document does not say what it must, or contradicts itself."""

    code = "bad_document"


class NotUnderstood(DomainError):
    """Something a person wrote could not be read as an amount.

    ``at`` is where the word that stopped it begins and ends in what was written;
    ``choices`` are texts that may have been meant, each of which can be read.
    """

    code = "not_understood"

    def __init__(self, field: str, message: str, remedy: str, *, at: tuple[int, int] | None = None, choices: tuple[str, ...] = ()) -> None:
        super().__init__(field, message, remedy)
        self.at = at
        self.choices = choices

    def at_field(self, field: str) -> NotUnderstood:
        """The same refusal at another field."""
        return NotUnderstood(field, self.message, self.remedy, at=self.at, choices=self.choices)

    def __reduce__(self) -> tuple[Any, ...]:
        return _not_understood, (self.field, self.message, self.remedy, self.at, self.choices)


def _not_understood(field: str, message: str, remedy: str, at: tuple[int, int] | None, choices: tuple[str, ...]) -> NotUnderstood:
    return NotUnderstood(field, message, remedy, at=at, choices=choices)


class CyclicAmounts(DomainError):
    """Amounts refer to one another in a circle, so none of them has a value."""

    code = "cyclic_amounts"


class SeveralProblems(DomainError):
    """More than one thing is wrong; each is listed with its own field."""

    code = "several_problems"

    def __init__(self, problems: list[DomainError]) -> None:
        first = problems[0]
        super().__init__(first.field, first.message, first.remedy)
        self.problems = problems

    def __reduce__(self) -> tuple[Any, ...]:
        return type(self), (self.problems,)

    def at_field(self, field: str) -> DomainError:
        """All of them at another field."""
        return SeveralProblems([problem.at_field(field) for problem in self.problems])


def together(problems: Sequence[DomainError]) -> DomainError:
    """Several problems as one error; a single one as itself."""
    return problems[0] if len(problems) == 1 else SeveralProblems(list(problems))


def require_within(
    field: str,
    value: ArrayLike,
    *,
    above: float | None = None,
    at_least: float | None = None,
    at_most: float | None = None,
    below: float | None = None,
    unit: str = "",
    remedy: str = "",
) -> Floats:
    """Return ``value`` as a float array, or raise where any element lies outside.

    NaN lies outside every range. The message quotes the first offender and the
    bounds; ``remedy`` replaces the default advice.
    """
    array: Floats = np.asarray(value, dtype=np.float64)
    good = np.isfinite(array)
    words: list[str] = []
    if above is not None:
        good = good & (array > above)
        words.append(f"above {shown(above)}")
    if at_least is not None:
        good = good & (array >= at_least)
        words.append(f"at least {shown(at_least)}")
    if at_most is not None:
        good = good & (array <= at_most)
        words.append(f"at most {shown(at_most)}")
    if below is not None:
        good = good & (array < below)
        words.append(f"below {shown(below)}")
    if not np.all(good):
        offender = float(np.atleast_1d(array)[~np.atleast_1d(good)][0])
        unit_text = f" {unit}" if unit else ""
        bounds = " and ".join(words) or "a finite number"
        raise OutOfRange(
            field=field,
            message=f"{shown(offender)}{unit_text} is outside what {field} allows.",
            remedy=remedy or f"Give a value {bounds}{unit_text}.",
        )
    return array
