"""What an ingredient can do to somebody or to a batch, by code, with the words that stand at its step.

Common practice unless a rule is named. Local food codes and qualified people decide.
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Hazard:
    """What to do and why, in one or two sentences. ``grave`` hazards may hurt a person; the rest spoil a batch or an apron.

    ``stays``: it is told of whatever is made with it too. The rest is over once it has been handled as its own step says.
    """

    words: str
    grave: bool = True
    stays: bool = False


HAZARDS: dict[str, Hazard] = {
    "protease": Hazard(
        "Raw, it curdles milk and thins gelatine: boil it for a few minutes first, or keep it away from dairy.", grave=False, stays=True
    ),
    "infants": Hazard("Not for children under twelve months, boiled or not: name honey on the label and wherever the drink is offered.", stays=True),
    "coumarin": Hazard(
        "Cassia carries coumarin: much of it every day is unwise. Ask what your local code allows, or use the softer bark.", stays=True
    ),
    "coumarin_banned": Hazard(
        "Tonka beans carry much coumarin and are not allowed in food everywhere: check your local code before you buy.", stays=True
    ),
    "stones": Hazard("Stones and their kernels stay out: they break teeth and blades, and the kernels release cyanide."),
    "waxed": Hazard("Zest only fruit that is neither waxed nor treated after harvest, and wash it hot.", grave=False),
    "grapefruit": Hazard("Grapefruit changes how some medicines work: name it wherever the drink is offered.", stays=True),
    "elder": Hazard("Flowers only: green stems, leaves and raw berries make people sick. Shake the insects out."),
    "food_grade": Hazard("Only flowers sold as food: those of a florist are sprayed."),
    "chilli": Hazard("Wear gloves, and do not lean over the steam: it burns eyes and lungs."),
    "pink_pepper": Hazard("A relative of cashew and pistachio: people with a nut allergy may react. Tell them.", stays=True),
    "legume": Hazard("A relative of peanut and chickpea: people with a peanut allergy may react. Tell them.", stays=True),
    "liquorice": Hazard("Much liquorice every day raises blood pressure: name it, and keep the dose small.", stays=True),
    "raw_flour": Hazard("Raw flour may carry germs: it must be cooked through before anybody drinks it.", stays=True),
    "enzyme_dust": Hazard("Enzyme dust can sensitise lungs for life: weigh it slowly with a mask on, never blow or sweep it, wipe it up wet."),
    "alkaline": Hazard("Alkalised cocoa may be above pH 7, where a standard enzyme works poorly: measure the pH of the mix.", grave=False),
    "foams": Hazard("It foams up with anything sour: add it by pinches, in a pot with room.", grave=False),
    "late": Hazard("Its aroma flashes off: add it off the heat, when cool.", grave=False),
    "flammable": Hazard("Its vapour burns: off the flame, and never into a boiling pot."),
    "stains": Hazard("It stains hands, cloths and plastic for good.", grave=False),
    "strong_acid": Hazard("Strong acid: no splashes in the eyes, rinse skin at once with much water, acid into water and not the other way round."),
}
