"""Every stage there is. A new one is a file here and a name in this list."""

from typing import Annotated

from pydantic import Field

from jugcore.method.stages.add import Add, Adding, Blend, Join, LineDoc
from jugcore.method.stages.base import StageBase, Step, Trace
from jugcore.method.stages.boil import Boil, BoilEnd
from jugcore.method.stages.fill import Fill
from jugcore.method.stages.part import Mill, Press, Strain, Trim, Yielding, cake_of
from jugcore.method.stages.warm import Cool, Heat

Stage = Annotated[Blend | Add | Heat | Boil | Strain | Cool | Join | Trim | Press | Mill | Fill, Field(discriminator="kind")]
STAGES: tuple[type[StageBase], ...] = (Blend, Add, Heat, Boil, Strain, Cool, Join, Trim, Press, Mill, Fill)

__all__ = [
    "STAGES", "Add", "Adding", "Blend", "Boil", "BoilEnd", "Cool", "Fill", "Heat", "Join", "LineDoc",
    "Mill", "Press", "Stage", "StageBase", "Step", "Strain", "Trace", "Trim", "Yielding", "cake_of",
]  # fmt: skip
