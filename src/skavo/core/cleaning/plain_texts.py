"""What steps make of a single text. Standard library only: a plan that runs without Skavo takes this module along."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable
from datetime import date

# Letters of other scripts that look like Latin ones (common practice: those drawn alike in most fonts), and signs that
# stand for plain ones.
ALIKE = str.maketrans(
    {
        **dict(zip("АВЕКМНОРСТУХаеорсухі", "ABEKMHOPCTYXaeopcyxi", strict=True)),
        **dict(zip("ΑΒΕΖΗΙΚΜΝΟΡΤΥΧο", "ABEZHIKMNOPTYXo", strict=True)),
        **dict.fromkeys("‘’‚‛′", "'"),
        **dict.fromkeys("“”„‟″", '"'),
        **dict.fromkeys("‐‑‒–—−", "-"),
        **dict.fromkeys("\u00a0\u2007\u202f\u2009\u200a", " "),
        **dict.fromkeys("\u200b\u200c\u200d\ufeff\u00ad", None),
    }
)
CASES: dict[str, Callable[[str], str]] = {
    "": lambda text: text,
    "upper": str.upper,
    "lower": str.lower,
    "title": lambda text: re.sub(r"[^\W\d_]+", lambda word: word[0].capitalize(), text),
    "sentence": lambda text: text[:1].upper() + text[1:].lower(),
}


def tidied(text: str, *, trim: bool, blanks: bool, alike: bool, case: str) -> str:
    """A text with look-alike signs as plain ones, single spaces, none at the ends, and its letters in one case."""
    if alike:
        text = unicodedata.normalize("NFC", text).translate(ALIKE)
    if blanks:
        text = re.sub(r"[ \t\u00a0\u2000-\u200a\u202f\u3000]+", " ", text)
    if trim:
        text = text.strip()
    return CASES[case](text)


def folded(text: str) -> str:
    """A text as a dictionary knows it: without capital letters, single spaces, none at the ends."""
    return " ".join(text.casefold().split())


def read_text_as(text: str, measure: str, form: str) -> float | date | None:
    """A number or a date that stands in a text; None where it cannot be read."""
    return _number(text, form) if measure == "number" else _date(text, form)


def _number(text: str, form: str) -> float | None:
    plain = re.sub(r"[\s'’\u00a0\u202f]", "", text)
    plain = plain.replace(".", "").replace(",", ".") if form == "decimal_comma" else plain.replace(",", "")
    return float(plain) if re.fullmatch(r"[-+]?\d{1,15}(\.\d{1,15})?", plain, re.ASCII) else None


def _date(text: str, form: str) -> date | None:
    pieces = re.findall(r"\d+", text)
    if len(pieces) != 3:
        return None
    order = {"day_month_year": (2, 1, 0), "month_day_year": (2, 0, 1)}.get(form, (0, 1, 2))
    year, month, day = (int(pieces[place]) for place in order)
    if len(pieces[order[0]]) != 4:
        return None
    try:
        return date(year, month, day)
    except ValueError:
        return None


def variable_of(variable: str, code: str) -> str:
    """What the yes or no of one code of a multiple answer is called."""
    tail = re.sub(r"[^a-z0-9_]", "_", code.lower())
    return f"{variable[: max(1, 31 - len(tail))]}_{tail}"[:32]


def swapped(day: date | None) -> date | None:
    """A date with day and month in each other's place; None where that is no date."""
    return None if day is None or day.day > 12 else day.replace(month=day.day, day=day.month)
