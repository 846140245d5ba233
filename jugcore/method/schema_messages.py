"""Turns a schema complaint into a sentence at a field that says what to do."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from jugcore.errors import BadDocument, DomainError, OutOfRange
from jugcore.figures import shown

_UNITS = {"grams": "g per kg", "_g": "g", "_c": "°C", "brix": "°Bx", "minutes": "min", "_ml": "ml", "_m": "m", "_cm": "cm", "_w": "W", "_um": "µm"}
_NAMES = {
    "brix": "°Brix", "mass_g": "mass", "off_g": "grams off", "temperature_c": "temperature", "to_c": "temperature",
    "grams": "rate", "total_g": "total", "text": "amount",
    "yield_fraction": "yield", "loss_fraction": "loss", "size_ml": "size", "altitude_m": "altitude",
}  # fmt: skip


def field_path(location: Sequence[int | str], raw: Any) -> str:
    """``stages.2.boil.until.brix`` as ``stages.<id>.until.brix``; lines lead their own path.

    Discriminator tags that are no keys of the document are left out.
    """
    path: list[str] = []
    here = raw
    for part in location:
        if isinstance(part, int) and isinstance(here, Sequence) and not isinstance(here, str) and part < len(here):
            here = here[part]
            name = here.get("id") if isinstance(here, Mapping) else None
            path.append(str(name) if isinstance(name, str) and name else str(part))
            continue
        if isinstance(here, Mapping) and isinstance(part, str) and part not in here and part in (here.get("kind"), "str"):
            continue
        if isinstance(here, str) and isinstance(part, str):
            continue
        here = here.get(part) if isinstance(here, Mapping) else None
        path.append(str(part))
    if "lines" in path[1:-1] and path[0] == "stages":
        path = path[path.index("lines", 1) :]
    return ".".join(path) or "document"


def _unit(name: str) -> str:
    return next((f" {unit}" for ending, unit in _UNITS.items() if name.endswith(ending)), "")


#: No text of a document is longer.
_MOST_TEXT = 4000


def explain(error: Mapping[str, Any], raw: Any) -> DomainError:
    """A DomainError for one pydantic error of a document."""
    path = field_path(error["loc"], raw)
    name = str(error["loc"][-1]) if error["loc"] else "document"
    called = _NAMES.get(name, name.replace("_", " "))
    unit = _unit(name)
    kind, given, context = error["type"], error.get("input"), error.get("ctx") or {}
    bounds = {
        "greater_than": ("gt", "above"), "greater_than_equal": ("ge", "at least"),
        "less_than": ("lt", "below"), "less_than_equal": ("le", "at most"),
    }  # fmt: skip
    if kind in bounds:
        key, word = bounds[kind]
        value = shown(float(given)) if isinstance(given, int | float) else str(given)
        return OutOfRange(path, f"{value}{unit} is not a possible {called}.", f"Give {word} {shown(context[key])}{unit}.")
    if kind == "missing":
        return BadDocument(path, f"The {called} is missing.", "Add it.")
    if kind == "extra_forbidden":
        return BadDocument(path, f"“{name}” is not part of a document.", "Remove it, or check its spelling.")
    if kind == "too_short":
        things = "ingredients" if called == "lines" else called
        return BadDocument(
            path, f"There are no {things} yet.", "Add at least one, or remove the stage." if called == "lines" else "Add at least one."
        )
    if kind == "too_long":
        things = "ingredients" if called == "lines" else called
        many = f"{context['actual_length']} are" if context.get("actual_length") else "More are"
        return BadDocument(path, f"There may be at most {context['max_length']} {things} together; {many} given.", "Use fewer, or part them.")
    if kind in ("float_parsing", "float_type", "finite_number", "int_parsing"):
        return BadDocument(path, f"“{str(given)[:60]}” is not a number.", f"Give a number{' in' + unit if unit else ''}.")
    if kind == "string_pattern_mismatch" and "x00" in str(context.get("pattern")):
        return BadDocument(path, "The text holds a character that cannot be stored.", "Type it again.")
    if kind == "string_too_long":
        return BadDocument(path, f"The {called} is too long.", f"Use at most {context.get('max_length')} characters.")
    if kind == "string_pattern_mismatch":
        return BadDocument(path, f"“{str(given)[:60]}” cannot be an id.", "Use 1 to 64 letters, digits, - or _.")
    if kind in ("union_tag_invalid", "union_tag_not_found"):
        allowed = context.get("expected_tags", "one of the kinds")
        return BadDocument(path, f"The kind of this {'stage' if 'stages' in path else 'amount'} is not known.", f"Use {allowed}.")
    if kind in ("model_type", "model_attributes_type", "dict_type") and isinstance(given, str):
        # A text where a text or a whole amount may stand: it is the text that is wrong.
        if len(given) > _MOST_TEXT:
            return BadDocument(path, f"The {called} is too long.", f"Use at most {_MOST_TEXT} characters.")
        return BadDocument(path, f"“{given[:60]}” is no {called}.", "Write it again.")
    if kind == "value_error":
        # The sentence a check raises, and what to do about it in the line below.
        message, _, remedy = str(context.get("error", error["msg"])).partition("\n")
        return BadDocument(path, message, remedy or "Change it so that it fits.")
    return BadDocument(path, f"{error['msg']!s}.", "Compare it with the published schema.")
