"""A line of somebody's recipe, taken for what it is: an ingredient with an amount, a title, or a step.

Words that say how something is packed, cut or tempered name no ingredient; grams that stand beside cups are the amount.
Every rule here is common practice of how recipes are written down, no source.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

from jugcore.errors import NotUnderstood
from jugcore.measures.parsing import Quantity, parse_amount

#: Words that begin a step.
_VERBS = (
    "add|allow|bake|beat|blend|blitz|boil|bring|combine|cook|cover|decant|discard|dissolve|drain|fold|freeze|heat|infuse|keep|leave|"
    "let|melt|microwave|mix|place|pour|preheat|press|pulse|put|reduce|refrigerate|remove|rest|return|serve|set|shake|sieve|simmer|steep|stir|store|"
    "strain|take|transfer|turn|use|wait|warm|whip|whisk|yields?|makes?"
)
_STEP = re.compile(
    r"^(?:makes?|yields?|serves)\b|^(?:warm|cool|chill)\s+(?:the|it|up|gently|through|over|down|to|until|in)\b|"
    rf"^(?:then\s+|now\s+|finally,?\s+)?(?:{_VERBS})\b(?!\s*[:\-–]?\s*\d+\s*(?:g|ml|kg|l|cups?|tsp|tbsp)\b)",
    re.I,
)
#: How warm, how cut, how packed: nothing of what it is. “Cold brew” and “hot chocolate” are names.
_MANNER = re.compile(
    r"(?<![\w-])(?:(?:very\s+|just\s+)?(?:"
    r"hot|cold|warm|lukewarm|tepid|boiling|freshly[ -]boiled|chilled|ice[ -]cold|iced|softened|melted|room[ -]temperature|at room temperature|"
    r"(?:lightly|firmly|tightly|loosely|well)[ -]packed|packed|sifted|unsifted|drained|rinsed|freshly|squeezed|ground fine|"
    r"finely|coarsely|roughly|thinly|grated|chopped|diced|sliced|minced|crushed|cracked|bruised|halved|divided|optional|good[ -]quality|organic|"
    r"large|medium|medium-sized|small|approx(?:imately)?\.?|plus more.*|plus extra.*|or more.*|or to taste|to taste|as needed|if needed|"
    r"of choice|of your choice))(?![\w-])(?!\s*brew)(?!\s+chocolate\b)(?!-)",
    re.I,
)
#: Behind a comma: how it was made ready.
_READY = re.compile(
    r"(?:(?:and|then|but|peeled|cored|cubed|split|scraped|pitted|stoned|seeded|deseeded|trimmed|washed|cut|into|in|half|halves|chunks|pieces|cubes|"
    r"lengthwise|lengthways|beaten|seeds?|removed|torn|broken|smashed|strained|sieved|level|for|serving|dusting|about)\W*)+",
    re.I,
)
_HEAT = re.compile(
    r"(?:\bat\s+|\bto\s+)?(?:about\s+|around\s+)?\d{1,3}(?:[.,]\d+)?\s*(?:°|º|degrees?)\s*[CF]?\b|"
    r"\b(?:for\s+)?\d+(?:\s*[-–]\s*\d+)?\s*(?:min(?:ute)?s?|hours?|hrs?|seconds?|secs?)\b",
    re.I,
)
_MASS = r"\d[\d.,]*\s*(?:kg|kilos?|kilograms?|g|gr|grams?|grammes?)(?![\w])"
_BESIDE = re.compile(rf"[(\[/|]\s*(?:about\s+|approx\.?\s+|~\s*|ca\.?\s+|or\s+)?({_MASS})\s*[)\]/|]?|\bor\s+({_MASS})", re.I)
_OTHER_MEASURE = re.compile(
    r"\b(?:cups?|c|tbsps?|tablespoons?|tsps?|teaspoons?|fl\.?\s*oz|oz|ounces?|pints?|quarts?|gallons?|lbs?|pounds?|sticks?)\b", re.I
)
_MARK = re.compile(r"^\s*(?:[-*•–](?=\s)|[▢☐]|\d+[.)](?=\s)|\[[ x]?\])\s*", re.I)


@dataclass(frozen=True)
class LineWords:
    """What a line is; of an ingredient, its words without manner and the amount it gives in grams beside another measure."""

    kind: Literal["line", "title", "step"]
    words: str
    grams: str = ""


def line_words(text: str) -> LineWords:
    """Take a line for what it is.

    >>> line_words("1 cup (200 g) light brown sugar, packed")
    LineWords(kind='line', words='light brown sugar', grams='200 g')
    >>> line_words("350ml hot water (90 °C)").words
    '350ml water'
    >>> line_words("Microwave 2 min, stir").kind
    'step'
    """
    said = " ".join(_MARK.sub("", text, count=1).replace(" ", " ").split())
    if re.fullmatch(r"#+\s*.+|[*_]{2}.+[*_]{2}|.+:", said):
        return LineWords("title", said.strip("#*_: "))
    if _STEP.match(said) or (len(said) > 60 and said.endswith(".") and _HEAT.search(said)):
        return LineWords("step", said)
    said = re.sub(r"(?<=\d)\s+(?=%)", "", said)
    said = re.sub(r"(?<=\d)\s*[/⁄]\s*(?=\d+\s+[^\W\d])", "/", said)
    said, grams = _grams_beside(said)
    return LineWords("line", _without_manner(said) or said, grams)


def _grams_beside(said: str) -> tuple[str, str]:
    """The line without the measure that is beside its grams, and the grams; as it is where there is only one."""
    first = re.match(rf"^({_MASS})\s*(?:[(\[/|]\s*[^)\]|]*\d[^)\]|]*[)\]|]|/\s*\S+\s+\S+)\s*", said, re.I)
    if first and _OTHER_MEASURE.search(said[len(first[1]) : first.end()]):
        return said[first.end() :].strip() or said, first[1]
    beside = _BESIDE.search(said)
    if beside is None:
        return said, ""
    rest = f"{said[: beside.start()]} {said[beside.end() :]}"
    amount = leading_amount(rest)
    if not amount or not _OTHER_MEASURE.search(amount):
        return said, ""
    return " ".join(rest[len(amount) :].split()) if rest.startswith(amount) else " ".join(rest.replace(amount, " ", 1).split()), beside[1] or beside[
        2
    ]


def _without_manner(said: str) -> str:
    bare = re.sub(r"[(\[][^)\]]*[)\]]", lambda found: found[0] if "%" in found[0] or _says_what(found[0][1:-1]) else "", said)
    bare = _HEAT.sub(" ", bare)
    parts = re.split(r"\s*[,;]\s+", _MANNER.sub(" ", bare))
    kept = [part for place, part in enumerate(parts) if place == 0 or _says_what(part)]
    return " ".join(" ".join(", ".join(kept).split()).strip(" ,;").rstrip(" -–").split())


def _says_what(text: str) -> bool:
    """Whether any word of a text may name something, once manner and heat are gone."""
    left = _HEAT.sub(" ", _MANNER.sub(" ", text))
    if _READY.fullmatch(left.strip() or "-"):
        return False
    return bool(re.search(r"[^\W\d_]{3,}", re.sub(r"\b(?:and|the|for|from|into|until|see|note|notes)\b", " ", left, flags=re.I)))


def leading_amount(words: str) -> str:
    """The amount a line begins with: “2 tsp” of “2 tsp moon dust”; empty where it begins with none."""
    said = words.split()
    for many in range(min(len(said), 6), 0, -1):
        begins = " ".join(said[:many])
        try:
            parsed = parse_amount(begins)
        except NotUnderstood:
            continue
        if isinstance(parsed, Quantity) and not parsed.what:
            return begins
    return ""


def counted(amount: str, words: str, pieces: tuple[str, ...]) -> str:
    """An amount that is only a number, in pieces of what it counts: “1” of “vanilla bean” is 1 bean. Else as it is.

    Empty where a bare number counts something of which no piece is known: nobody means a gram.
    """
    try:
        parsed = parse_amount(amount)
    except NotUnderstood:
        return amount
    if not isinstance(parsed, Quantity) or len(parsed.portions) != 1 or parsed.portions[0].unit is not None:
        return amount
    said = re.findall(r"\w+", words.lower())
    named = next((piece for piece in pieces if piece in said or f"{piece}s" in said), pieces[0] if pieces else None)
    return "" if named is None else f"{amount} {named}"
