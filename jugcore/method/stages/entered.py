"""What was entered at a stage of a batch, as the stage takes it."""

from __future__ import annotations

from typing import Protocol

from jugcore.method.kitchen import Kitchen


class Entered(Protocol):
    """The entries about one stage. What was not entered, or cannot be, is None or empty."""

    @property
    def kitchen(self) -> Kitchen: ...
    @property
    def is_done(self) -> bool: ...
    @property
    def probe_c(self) -> float | None:
        """The last temperature of the probe [°C]."""

    @property
    def probes(self) -> tuple[tuple[float, float], ...]:
        """Minutes since the stage was begun, and what the probe showed then [min, °C]."""

    @property
    def held_min(self) -> float | None:
        """How long it lasted, once it is over [min]."""

    @property
    def pot_g(self) -> float | None:
        """The last weighing of the pot that can be one of it, tare off [g]."""

    @property
    def below_plan(self) -> bool:
        """Whether that is less than the plan stops at."""

    @property
    def brix(self) -> float | None:
        """The last drop on the refractometer, at 20 °C [°Bx]."""

    @property
    def gave_g(self) -> float | None:
        """What came of it, weighed [g]."""

    @property
    def filled_g(self) -> float | None:
        """What was filled and left over, weighed [g]."""
