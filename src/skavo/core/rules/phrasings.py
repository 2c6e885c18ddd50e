"""What people write by habit from elsewhere, and how a rule says it: one row a phrase, tried where a rule cannot be read."""

from __future__ import annotations

import re
from dataclasses import dataclass

from skavo.core.rules.faults import Fault, Span


@dataclass(frozen=True)
class Phrasing:
    """`mend` may take up groups of `pattern` by name; the place of the fault has to lie within what the pattern fits."""

    pattern: re.Pattern[str]
    message: str
    mend: str


def _row(pattern: str, message: str, mend: str) -> Phrasing:
    return Phrasing(re.compile(pattern, re.S), message, mend)


_KEYWORDS = (
    "and|or|not|if|then|else|is|between|includes|matches|where|was|one|none|any|all|only|of|yes|no|answered|missing"
)
_UPPER = "|".join(word.upper() for word in _KEYWORDS.split("|"))
_NOT_A_WORD = "“{found}” is not said like this in a rule."

PHRASINGS: list[Phrasing] = [
    _row(r"===?", "Equality is written with one sign.", "Write: is"),
    _row(r"&&?", _NOT_A_WORD, "Write: and"),
    _row(r"\|\|?", _NOT_A_WORD, "Write: or"),
    _row(r"<>|=/=|!==|~=", _NOT_A_WORD, "Write: is not"),
    _row(r"=<", _NOT_A_WORD, "Write: <="),
    _row(r"=>", _NOT_A_WORD, "Write: >="),
    _row(r"!(?!=)", _NOT_A_WORD, "Write: not"),
    _row(r"%", "“%” has no meaning in a rule.", "For what is left of a division write remainder(a, b); for a share divide by 100."),
    _row(r"[≤≥≠]", _NOT_A_WORD, "Write: <=, >= or is not."),
    _row(r"[×·]", _NOT_A_WORD, "Write: *"),
    _row(r"\^|\*\*", "There are no powers.", "Multiply instead: a * a."),
    _row(rf"\b(?P<word>{_UPPER})\b\s*", "The words of the rule language are written in small letters.", "Write: {lower}"),
    _row(r"\bif\b.*\bthen\b(?!.*\belse\b).*", "An “if” also says what holds otherwise.", "Add: else yes, or else no."),
    _row(r"(?P<name>[\w.]+)\s+is\s+not\s+(?:answered|given|filled)\b", _NOT_A_WORD, "Write: {name} is missing"),
    _row(r"(?P<name>[\w.]+)\s+is\s+not\s+missing\b", _NOT_A_WORD, "Write: {name} is answered"),
    _row(r"(?P<name>[\w.]+)\s+is\s+not\s+refused\b", _NOT_A_WORD, "Write: not {name} is refused"),
    _row(r"(?P<name>[\w.]+)\s+(?:is\s+not|was\s+not|is)\s+asked\b", _NOT_A_WORD, "Write: {name} was asked, or: not {name} was asked"),
    _row(r"(?P<name>[\w.]+)\s+is\s+known\b", _NOT_A_WORD, "Write: {name} is answered"),
    _row(r"(?P<name>[\w.]+)\s+is\s+not\s+between\s+", _NOT_A_WORD, "Write: not {name} between … and …"),
    _row(r"(?P<name>[\w.]+)\s+not\s+between\s+", _NOT_A_WORD, "Write: not {name} between … and …"),
    _row(r"(?P<name>[\w.]+)\s+is\s+between\s+", _NOT_A_WORD, "Write: {name} between … and …"),
    _row(r"\bbetween\s+(?P<low>[\w.]+)\s*(?:to|-|–|,|or)\s*", "The two ends of a range are joined by “and”.", "Write: between {low} and …"),
    _row(r"\bis\s+(?:at\s+least|not\s+below|not\s+less\s+than)\s*", _NOT_A_WORD, "Write: >="),
    _row(r"\bis\s+(?:at\s+most|not\s+above|not\s+more\s+than)\s*", _NOT_A_WORD, "Write: <="),
    _row(r"\b(?:is\s+)?(?:more|greater|larger|above|over|after)\b(?:\s+than)?\s*", _NOT_A_WORD, "Write: >"),
    _row(r"\b(?:is\s+)?(?:less|fewer|smaller|below|under|before)\b(?:\s+than)?\s*", _NOT_A_WORD, "Write: <"),
    _row(r"\b(?:is\s+)?equals?\b(?:\s+to)?\s*", _NOT_A_WORD, "Write: is"),
    _row(r"\b(?:is\s+)?not\s+in\b\s*", _NOT_A_WORD, "Write: is none of (…)"),
    _row(r"\b(?:is\s+)?in\b\s*", _NOT_A_WORD, "Write: is one of (…)"),
    _row(r"\bis\s+(?P<which>one|none|any)\s+of\s+(?![(\[{])[\w\s,\"]*", "The values of a list stand in brackets.", "Write: is one of (a, b), or is none of (a, b)"),
    _row(r"\bincludes\s+none\s+of\b\s*", _NOT_A_WORD, "Write: not tools includes any of (…), with your variable for tools"),
    _row(r"\b(?P<word>contains|contain|include|has|have)\b\s*", _NOT_A_WORD, "Write: includes"),
    _row(r"\b(?P<word>like|match)\b\s*", _NOT_A_WORD, 'Write: matches "…" with a mask'),
    _row(r"(?P<word>\band|\bor)\s+(?P<sign><=|>=|!=|<|>|=|\bis\b)\s*", "Both sides of “{word}” are sentences of their own.", "Say again what is compared, as in: a >= 0 {word} a <= 7"),
    _row(r"(?:<=|>=|<|>)\s*[\w.]+\s*(?:<=|>=|<|>|=)\s*", "Two comparisons cannot be chained.", "Write: a between 1 and 7, or two comparisons joined by “and”."),
    _row(r"(?P<whole>\d+),(?P<part>\d+)", "Numbers are written with a point.", "Write: {whole}.{part}"),
    _row(r"(?<!\d)\.(?P<part>\d+)", "A number begins with a digit.", "Write: 0.{part}"),
    _row(r";\s*", _NOT_A_WORD, "Separate values by a comma."),
    _row(r"[\[\]{}]", "Only round brackets are used in rules.", "Write: ( and )"),
]  # fmt: skip

# Words that are names to the grammar, but that nobody means as one.
WORDS: dict[str, str] = {
    **dict.fromkeys(("empty", "blank", "null", "nothing", "na", "unanswered"), "Write: … is missing"),
    **dict.fromkeys(("true", "True", "TRUE", "Yes", "YES", "y"), "Write: yes"),
    **dict.fromkeys(("false", "False", "FALSE", "No", "NO", "n"), "Write: no"),
}
CALLS: dict[str, str] = {
    **dict.fromkeys(("exists", "isanswered", "notempty", "notblank"), "Write: … is answered"),
    **dict.fromkeys(("empty", "isempty", "blank", "isblank", "isnull", "missing", "ismissing"), "Write: … is missing"),
    **dict.fromkeys(("today", "now"), "Write it without brackets."),
    **dict.fromkeys(("average", "avg"), "Write: mean(roster.variable)"),
    **dict.fromkeys(("min", "minimum"), "Write: smallest(a, b), or over a roster lowest(roster.variable)"),
    **dict.fromkeys(("max", "maximum"), "Write: largest(a, b), or over a roster highest(roster.variable)"),
    **dict.fromkeys(("len", "strlen"), "Write: length(x)"),
    **dict.fromkeys(("concat", "concatenate"), "Write: join(a, b, …)"),
    **dict.fromkeys(("mod", "modulo"), "Write: remainder(a, b)"),
    **dict.fromkeys(("int", "trunc"), "Write: floor(x)"),
    **dict.fromkeys(("ceil",), "Write: ceiling(x)"),
    **dict.fromkeys(("and", "or", "not"), "It stands between two sentences, as in: a > 1 and b > 2"),
}


def phrasing_fault(text: str, at: int) -> Fault | None:
    """The first phrase of the table that the unreadable place `at` of a rule belongs to; None where there is none."""
    plain = _QUOTED.sub(lambda m: '"' + "_" * (len(m[0]) - 2) + '"' if m[0][0] == '"' else " " * len(m[0]), text)
    for phrasing in PHRASINGS:
        for match in phrasing.pattern.finditer(plain):
            if match.start() <= at <= match.end():
                return _fault(phrasing, match, text)
    return None


def _fault(phrasing: Phrasing, match: re.Match[str], text: str) -> Fault:
    found = text[match.start() : match.end()].rstrip()
    words = {**match.groupdict(), "found": found, "lower": found.lower()}
    span = Span(match.start(), match.start() + len(found))
    return Fault("other_phrasing", phrasing.message.format(**words), span, phrasing.mend.format(**words))


_QUOTED = re.compile(r'"[^"\n]*"|#[^\n]*')
