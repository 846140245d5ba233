"""A line of somebody's recipe, taken for what it is: an ingredient with an amount, a title, or a step.

Words that say how something is packed, cut or tempered name no ingredient; grams that stand beside cups are the amount.
Every rule here is common practice of how recipes are written down, no source.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator
from dataclasses import dataclass
from typing import Literal

from jugcore.errors import NotUnderstood
from jugcore.measures.parsing import Everything, Likeness, Parsed, Quantity, Rate, parse_amount
from jugcore.measures.systems import UNIT_OF_WORD

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
_VOLUME = r"\d[\d.,]*\s*(?:ml|millilit(?:er|re)s?|cl|l|lit(?:er|re)s?)(?![\w])"


def _beside(measure: str) -> re.Pattern[str]:
    return re.compile(rf"[(\[/|]\s*(?:about\s+|approx\.?\s+|~\s*|ca\.?\s+|or\s+)?({measure})\s*[)\]/|]?|\bor\s+({measure})", re.I)


#: Grams beside another measure are the amount; else millilitres beside cups or spoons.
_BESIDES = (_beside(_MASS), _beside(_VOLUME))
_OTHER_MEASURE = re.compile(
    r"\b(?:cups?|c|tbsps?|tablespoons?|tsps?|teaspoons?|fl\.?\s*oz|oz|ounces?|pints?|quarts?|gallons?|lbs?|pounds?|sticks?)\b", re.I
)
_MARK = re.compile(r"^\s*(?:[-*–](?=\s)|[•‣◦▪●○■□▢☐☑✔✓·➢►]|\d+[.)](?=\s)|\[[ x]?\])\s*", re.I)
#: What is called so.
_NAME = re.compile(r"^[#*_\s]*(?:title|recipe|recipe name|name)[*_]*\s*:\s*[*_]*\s*(\S.*)$", re.I)
#: What is said about the whole of it.
_ABOUT = re.compile(
    r"^[*_]*(?:(?:prep(?:aration)?|cook(?:ing)?|active|total|chill(?:ing)?|rest(?:ing)?|ready in|infus(?:e|ing|ion)|cooling)(?:[ -]?time)?|"
    r"time|servings?|serving size|portions?|yields?|makes|course|cuisine|calories|energy|author|source|category|keywords?|equipment|difficulty|level|"
    r"cost|tags?|rating|storage|shelf life|notes?|tips?|description|posted|printed|updated|published)[*_]*\s*:",
    re.I,
)
#: Titles under which nothing is an ingredient.
_OF_STEPS = re.compile(
    r"(?:method|directions?|instructions?|steps?|preparation|procedure|how to make (?:it|.*)|notes?|tips?|to serve|storage|equipment)", re.I
)
_FIGURE = r"(?:\d+\s+\d+/\d+|\d+/\d+|\d+(?:[.,]\d+)?\s?[½⅓⅔¼¾]?|[½⅓⅔¼¾])"
_PACK = r"(?:tins?|cans?|packs?|packets?|pkgs?\.?|packages?|cartons?|bottles?|jars?|bags?|boxe?s?|blocks?|bars?|tubs?|sachets?|pouche?s?|tubes?)"
_HOLDS = r"(?P<holds>\d+(?:[.,]\d+)?)\s*-?\s*(?P<unit>fl\.?\s?oz|oz|ounces?|kg|g|grams?|ml|millilit(?:er|re)s?|cl|l|lit(?:er|re)s?|lbs?|pounds?)\.?"
_PACKS = (
    re.compile(rf"^(?P<many>{_FIGURE})\s*[x×]\s*[(\[]?\s*{_HOLDS}\s*[)\]]?[\s-]*(?:{_PACK}\b)?\s*(?:of\s+)?", re.I),
    re.compile(rf"^(?P<many>{_FIGURE}|an?|one)\s+[(\[]?\s*(?:about\s+)?{_HOLDS}\s*[)\]]?[\s-]*{_PACK}\b\s*(?:of\s+)?", re.I),
    re.compile(rf"^(?P<many>{_FIGURE}|an?|one)?\s*{_PACK}\s*[(\[,]\s*(?:about\s+)?{_HOLDS}(?:\s*(?:each|net))?\s*[)\],]\s*(?:of\s+)?", re.I),
)
_PART_OF = re.compile(
    rf"^(?:the\s+)?(?P<part>juice|zest|peel|rind)\s+(?:of|from)\s+(?:about\s+)?(?P<many>{_FIGURE}|half|an?|one|two|three|four)?"
    r"(?:\s+an?)?\s+(?P<fruit>[a-z]+(?: [a-z]+)?)$",
    re.I,
)
_ASIDE = re.compile(r"^(?P<what>[^\d(]{2,}?)\s*\((?P<amount>\d[^)]*)\)$")
_MADE_OF = re.compile(rf"^(?P<many>{_FIGURE})\s+(?P<fruit>[a-z]+(?: [a-z]+)?)\s*,\s*(?P<how>juiced|juice only|zested|zest only)$", re.I)


#: No amount has more words.
_AMOUNT_WORDS = 7
#: Words beside a name that make it nothing else (common practice, no source).
DESCRIBES = frozenset((
    "fresh", "frozen", "thawed", "ripe", "raw", "pure", "real", "plain", "natural", "unsweetened", "organic", "runny", "clear", "local", "homemade",
    "good", "best", "quality", "chilled", "or", "and", "a", "an", "the", "of", "for", "to", "with", "your", "our", "my", "some", "each", "about",
    "piece", "pieces",
))  # fmt: skip


@dataclass(frozen=True)
class LineWords:
    """What a line is; of an ingredient, its words without manner, and its amount where the line says it another way than in front."""

    kind: Literal["line", "title", "name", "step"]
    words: str
    amount: str = ""


def line_words(text: str) -> LineWords:
    """Take a line for what it is.

    >>> line_words("1 cup (200 g) light brown sugar, packed")
    LineWords(kind='line', words='light brown sugar', amount='200 g')
    >>> line_words("350ml hot water (90 °C)").words
    '350ml water'
    >>> line_words("Microwave 2 min, stir").kind
    'step'
    >>> line_words("2 (14 oz) tins coconut milk")
    LineWords(kind='line', words='coconut milk', amount='28 oz')
    >>> line_words("juice of 2 large lemons")
    LineWords(kind='line', words='lemon juice', amount='2 lemon')
    """
    said = " ".join(_MARK.sub("", text, count=1).replace(" ", " ").split())
    named = _NAME.match(said)
    if named:
        return LineWords("name", named[1].strip("#*_ "))
    if _ABOUT.match(said):
        return LineWords("step", said)
    if re.fullmatch(r"#+\s*.+|[*_]{2}.+[*_]{2}|.+:|ingredients|the ingredients", said, re.I) or _OF_STEPS.fullmatch(said):
        return LineWords("title", said.strip("#*_: "))
    if _STEP.match(said) or (len(said) > 60 and said.endswith(".") and _HEAT.search(said)):
        return LineWords("step", said)
    said = re.sub(r"(?<=\d)\s+(?=%)", "", said)
    said = re.sub(r"^(?:c\.|ca\.?|circa|approx(?:\.|imately)?)\s+(?=\d)", "about ", said, flags=re.I)
    said = re.sub(r"(?<=\d)\s*[-–]\s*(?=[1-7]/[2-8]\b)", " ", said)
    said = re.sub(r"^(?:a few|few|several)\s+(?=drops?\b|dash|pinch|leaves\b|pods?\b)", "about 3 ", said, flags=re.I)
    said = re.sub(r"(?<=\d)[\s-]+inch(?:es)?\b(?:\s+(?:piece|knob|chunk|length)s?\b)?", " inch", said, flags=re.I)
    said = re.sub(r"(?<=\d)\s*[/⁄]\s*(?=\d+\s+[^\W\d])", "/", said).replace(" & ", " and ")
    said, amount = _packs(said)
    if not amount:
        said, amount = _metric_beside(said)
    if not amount:
        said, amount = _of_fruit(said)
    if not amount:
        said, amount = _behind(said)
    return LineWords("line", _without_manner(said) or said, amount)


def _packs(said: str) -> tuple[str, str]:
    """Packs with what is in one of them: “2 (14 oz) tins” are 28 oz; as it is where no pack says its content."""
    for form in _PACKS:
        found = form.match(said)
        if found is not None and (many := _count(found["many"])) and (holds := _count(found["holds"])):
            return said[found.end() :].strip(" ,)"), f"{many * holds:.10g} {found['unit']}"
    return said, ""


def _count(text: str | None) -> float | None:
    """A number as amounts read it, 1,000 and 1 1/2 too; 1 where none stands there; None where it is no number."""
    bare = (text or "1").strip().lower()
    if bare in ("a", "an", "one"):
        return 1.0
    try:
        found = parse_amount(bare)
    except NotUnderstood:
        return None
    return found.portions[0].middle if isinstance(found, Quantity) and len(found.portions) == 1 else None


def _of_fruit(said: str) -> tuple[str, str]:
    """“Juice of 2 lemons” and “2 lemons, juiced”: lemon juice, as much as 2 lemons give. As it is where it says no such thing."""
    bare = " ".join(_MANNER.sub(" ", said).split())
    found = _PART_OF.match(bare)
    if found is not None:
        return f"{singular(found['fruit'])} {found['part'].lower()}", f"{found['many'] or 1} {singular(found['fruit']).split()[-1]}"
    found = _MADE_OF.match(bare)
    if found is not None:
        part = {"j": "juice", "z": "zest", "p": "purée"}[found["how"][0].lower()]
        return f"{singular(found['fruit'])} {part}", f"{found['many']} {singular(found['fruit']).split()[-1]}"
    return said, ""


def _behind(said: str) -> tuple[str, str]:
    """“Sugar: 200 g”, “Whole milk (500 ml)”, “vanilla extract 1 tsp”: the amount behind what it is of. As it is where one stands in front."""
    if leading_amount(said):
        return said, ""
    aside = _ASIDE.match(said)
    if aside is not None and leading_amount(aside["amount"]) == aside["amount"]:
        return aside["what"], aside["amount"]
    words = said.split()
    for begin in range(max(1, len(words) - 5), len(words)):
        amount = " ".join(words[begin:])
        if (re.search(r"\d\s*[^\W\d]|[½⅓⅔¼¾]", amount) and leading_amount(amount) == amount) or _is_measure(amount):
            what = " ".join(words[:begin]).rstrip(" :,;.…·-–—=\t")
            if re.search(r"[^\W\d_]{2,}", what):
                return what, amount
    return said, ""


def _is_measure(text: str) -> bool:
    """Whether a text is an amount in units, “a pinch”, and no number of pieces."""
    try:
        parsed = parse_amount(text)
    except NotUnderstood:
        return False
    return isinstance(parsed, Quantity) and not parsed.what and all(each.unit not in (None, "piece") for each in parsed.portions)


def singular(words: str) -> str:
    """Words with the last of them as one: “blood oranges” is blood orange."""
    *before, last = words.lower().split()
    one = last
    if len(last) > 3 and last.endswith("ies"):
        one = f"{last[:-3]}y"
    elif len(last) > 4 and last.endswith(("oes", "ches", "shes", "sses", "xes")):
        one = last[:-2]
    elif len(last) > 3 and last.endswith("s") and not last.endswith(("ss", "us", "is")):
        one = last[:-1]
    return " ".join((*before, one))


def _metric_beside(said: str) -> tuple[str, str]:
    """The line without its two measures, and the metric one of them; as it is where there is only one."""
    first = re.match(rf"^({_MASS}|{_VOLUME})\s*(?:[(\[/|]\s*[^)\]|]*\d[^)\]|]*[)\]|]|/\s*\S+\s+\S+)\s*", said, re.I)
    if first and _OTHER_MEASURE.search(said[len(first[1]) : first.end()]):
        grams = re.match(_MASS, first[1], re.I) or re.search(_MASS, first[0], re.I)
        return said[first.end() :].strip() or said, grams[0] if grams else first[1]
    for besides in _BESIDES:
        beside = besides.search(said)
        if beside is None:
            continue
        rest = f"{said[: beside.start()]} {said[beside.end() :]}"
        amount = leading_amount(rest)
        if amount and _OTHER_MEASURE.search(amount):
            left = rest[len(amount) :] if rest.startswith(amount) else rest.replace(amount, " ", 1)
            return " ".join(left.split()), beside[1] or beside[2]
    return said, ""


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


def begins_steps(title: str) -> bool:
    """Whether what stands under a title are steps and no ingredients."""
    return _OF_STEPS.fullmatch(title) is not None


def measured(words: str, pieces: Collection[str]) -> tuple[str, str]:
    """A line's amount and the words that are left to name what it is of; ``pieces`` are words for pieces of something.

    >>> measured("2 sticks of cinnamon", {"stick"})
    ('2 sticks', 'cinnamon')
    >>> measured("2 lemons", {"lemon"})
    ('2 lemons', 'lemons')
    """
    for begins, parsed, rest in _beginnings(words):
        if (
            isinstance(parsed, Likeness | Everything)
            or (isinstance(parsed, Rate) and parsed.of is not None)
            or (isinstance(parsed, Quantity) and (parsed.what or not all(_is_piece(each.piece, pieces) for each in parsed.portions)))
        ):
            continue
        left = re.sub(r"^(?:(?:of|an?|the)\s+)+", "", rest, flags=re.I)
        counted = " ".join(each.piece for each in parsed.portions if each.piece) if isinstance(parsed, Quantity) else ""
        return begins, left or counted
    # A figure that is no amount, −3 g, is told as one.
    figure = re.match(rf"[-−+]?\d[\d.,/]*(?:\s*(?:{'|'.join(sorted(map(re.escape, UNIT_OF_WORD), key=len, reverse=True))})\b)?\s+", words)
    return (figure[0].strip(), words[figure.end() :]) if figure else ("", words)


def _is_piece(word: str, pieces: Collection[str]) -> bool:
    return not word or word in pieces or singular(word) in pieces


def leading_amount(words: str) -> str:
    """The amount a line begins with: “2 tsp” of “2 tsp moon dust”; empty where it begins with none."""
    found = (begins for begins, parsed, _ in _beginnings(words) if isinstance(parsed, Quantity) and not parsed.what)
    return next(found, "")


def _beginnings(words: str) -> Iterator[tuple[str, Parsed, str]]:
    """What the first words of a line mean as an amount, the most of them first, and the words behind."""
    said = words.split()
    for many in range(min(len(said), _AMOUNT_WORDS), 0, -1):
        begins = " ".join(said[:many])
        try:
            yield begins, parse_amount(begins), " ".join(said[many:])
        except NotUnderstood:
            continue


def piece_amount(amount: str, words: str, pieces: tuple[str, ...], *, alone: bool = False) -> str:
    """An amount that is only a number, in pieces of what it counts: “1” of “vanilla bean” is 1 bean. Else as it is.

    Empty where a bare number counts something of which no piece is named or known: nobody means a gram, and a knob of butter
    is no stick. ``alone`` where the words name the thing and nothing else, so that its usual piece is meant.
    """
    try:
        parsed = parse_amount(amount)
    except NotUnderstood:
        return amount
    if not isinstance(parsed, Quantity) or len(parsed.portions) != 1 or parsed.portions[0].unit is not None:
        return amount
    said = re.findall(r"\w+", words.lower())
    named = next((piece for piece in pieces if piece in said or f"{piece}s" in said), pieces[0] if pieces and alone else None)
    return "" if named is None else f"{amount} {named}"


def piece_of(amount: str) -> str | None:
    """The piece an amount counts, “sticks” of 2 sticks; "" of a bare number; None where it is measured."""
    try:
        parsed = parse_amount(amount)
    except NotUnderstood:
        return None
    if not isinstance(parsed, Quantity) or any(each.unit not in (None, "piece") for each in parsed.portions):
        return None
    return " ".join(each.piece for each in parsed.portions)
