"""Every stage there is. A new one is a file here and a name in this list."""

from typing import Annotated

from pydantic import Field

from jugcore.method.stages.add import Add, Adding, Blend, Join
from jugcore.method.stages.aerate import Aerate, Mix
from jugcore.method.stages.at_stage import AtStage
from jugcore.method.stages.base import Naming, StageBase
from jugcore.method.stages.boil import Boil, BoilEnd
from jugcore.method.stages.caramelise import Caramelise
from jugcore.method.stages.fill import Fill
from jugcore.method.stages.hold import FoundAt, Freeze, Hold, Holding, Steep
from jugcore.method.stages.ice import Ice
from jugcore.method.stages.line import LineDoc
from jugcore.method.stages.part import Mill, Press, Strain, Trim, Yielding, cake_of
from jugcore.method.stages.step import Step, Trace
from jugcore.method.stages.warm import Cool, Heat

Stage = Annotated[
    Blend | Add | Heat | Boil | Strain | Cool | Join | Trim | Press | Mill | Fill | Hold | Steep | Caramelise | Aerate | Mix | Freeze | Ice,
    Field(discriminator="kind"),
]
STAGES: tuple[type[StageBase], ...] = (
    Blend, Add, Heat, Boil, Strain, Cool, Join, Trim, Press, Mill, Fill, Hold, Steep, Caramelise, Aerate, Mix, Freeze, Ice,
)  # fmt: skip

__all__ = [
    "Add", "Adding", "Aerate", "AtStage", "Blend", "Boil", "BoilEnd", "Caramelise", "Cool", "Fill", "FoundAt", "Freeze", "Heat", "Hold",
    "Holding", "Ice", "Join", "LineDoc", "Mill", "Mix", "Naming", "Press", "STAGES", "Stage", "StageBase", "Steep", "Step", "Strain", "Trace",
    "Trim", "Yielding", "cake_of",
]  # fmt: skip
