"""Shapes of the kitchen. The kitchen itself is the core's own."""

from __future__ import annotations

from ninja import Schema
from pydantic import Field

from jugcore.method.kitchen import Kitchen


class KitchenOut(Schema):
    """The site's kitchen and the number of its last change."""

    number: int = Field(description="Rises with every change; send it back when saving.")
    kitchen: Kitchen


class KitchenIn(Schema):
    """A change to the kitchen, based on the number it was read at."""

    number: int = Field(ge=0, le=2_147_483_647)
    kitchen: Kitchen
