"""Help for the rule language: every form with an example, over one small questionnaire with one set of answers.

The examples are shown in the application and in docs/rules.md, and a test runs every one of them.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from skavo.core.questionnaire.script import Code, CodeList, Part, Script, UnitList, UnitOfMeasure
from skavo.core.rules.check_sets import OCCURS_WORDS
from skavo.core.rules.functions import AGGREGATE_WORDS, FUNCTIONS


@dataclass(frozen=True)
class Example:
    """A rule, what it gives with EXAMPLE_ANSWERS (`missing` where nothing), and what it says."""

    rule: str
    gives: str
    words: str


@dataclass(frozen=True)
class Topic:
    title: str
    text: str
    examples: list[Example]


def example_script() -> Script:
    """The questionnaire that the examples are about."""

    def part(level: int, kind: str, variable: str, wording: str, **more: Any) -> Part:
        return Part(id=variable, level=level, kind=kind, variable=variable, wording={"en": wording}, **more)

    special = ["dont_know", "refused"]
    parts = [
        part(1, "unit", "workshop", "Which workshop?", register_name="workshops"),
        part(1, "single answer", "ward", "Which ward?", code_list="ward"),
        part(1, "single answer", "trade", "Which trade?", code_list="trade"),
        part(1, "whole number", "workers", "How many work here?"),
        part(1, "whole number", "paid", "How many are paid?", special_answers=special),
        part(1, "decimal", "days_open", "Days open a week?"),
        part(1, "yes/no", "has_apprentices", "Any apprentices?"),
        part(1, "whole number", "apprentices", "How many apprentices?", asked_when="has_apprentices is yes"),
        part(1, "multiple answer", "tools", "Which tools?", code_list="tool"),
        part(
            1, "single answer", "best", "Which is used most?", code_list="tool", code_filter="tools includes tool.code"
        ),
        part(1, "quantity", "scrap", "How much scrap a month?", unit="scrap_unit"),
        part(1, "text", "unit_code", "Code of the unit?"),
        part(1, "text", "phone", "Phone number?", special_answers=special),
        part(1, "date", "opened", "Opened when?"),
        part(1, "date-time", "visited", "Visited when?"),
        part(1, "time", "closes", "Closes at?"),
        part(1, "point", "door", "Where is the door?"),
        part(1, "point", "gate", "Where is the gate?"),
        part(1, "path", "way", "The way there?"),
        part(1, "area", "yard", "The yard?"),
        part(1, "roster", "staff", "Staff", repeated="workers times"),
        part(2, "text", "name", "Name of {row}?"),
        part(2, "whole number", "age", "How old is {name}?"),
        part(2, "decimal", "hours", "Hours a week?"),
        part(2, "single answer", "role", "Role?", code_list="role"),
        part(1, "roster", "each_tool", "Tools", repeated="for each code in tools"),
        part(2, "whole number", "price", "What did the {each_tool} cost?"),
    ]

    def codes(name: str, *entries: tuple[str, str], **attributes: str) -> CodeList:
        return CodeList(name=name, codes=[Code(code=c, label={"en": text}) for c, text in entries])

    wards = CodeList(
        name="ward",
        codes=[
            Code(code="k1", label={"en": "Harbour"}, attributes={"island": "kesk"}),
            Code(code="l1", label={"en": "Hill"}, attributes={"island": "luma"}),
        ],
    )
    lists = [
        wards,
        codes("trade", ("bicycle", "Bicycles"), ("phone", "Phones"), ("3", "Radios")),
        codes("tool", ("saw", "Saw"), ("vice", "Vice"), ("drill", "Drill")),
        codes("role", ("owner", "Owner"), ("mender", "Mender")),
    ]
    units = [
        UnitOfMeasure(unit="kg", dimension="mass", factor="1", label={"en": "kilograms"}),
        UnitOfMeasure(unit="basket", dimension="mass", factor="1 sack / 4", label={"en": "baskets"}),
        UnitOfMeasure(unit="sack", dimension="mass", factor="if ward is k1 then 40 else 50", label={"en": "sacks"}),
    ]
    return Script(
        name="help",
        languages=["en"],
        parts=parts,
        code_lists=lists,
        unit_lists=[UnitList(name="scrap_unit", units=units)],
    )


def _point(latitude: float, longitude: float) -> dict[str, Any]:
    return {"latitude": latitude, "longitude": longitude, "accuracy": 8.0}


EXAMPLE_ANSWERS: dict[str, Any] = {
    "workshop": "w7", "ward": "k1", "trade": "bicycle", "workers": 3, "paid": 2, "days_open": "5.5",
    "has_apprentices": False, "tools": ["saw", "vice"], "best": "saw", "scrap": {"amount": 3, "unit": "sack"},
    "unit_code": "KE4X_123456", "phone": {"special": "refused"}, "opened": "2019-01-31",
    "visited": "2027-03-14T09:30+00:00", "closes": "18:30", "door": _point(0.0, 0.0), "gate": _point(0.0, 0.001),
    "way": {"points": [_point(0.0, 0.0), _point(0.0, 0.001), _point(0.0, 0.002)]},
    "yard": {"points": [_point(-0.001, -0.001), _point(-0.001, 0.001), _point(0.001, 0.001), _point(0.001, -0.001)]},
    "staff/1/name": "Bo", "staff/1/age": 41, "staff/1/hours": 45, "staff/1/role": "owner",
    "staff/2/name": "Edda", "staff/2/age": 17, "staff/2/hours": "30.5", "staff/2/role": "mender",
    "staff/3/name": "Fenn", "staff/3/age": 13, "staff/3/role": "mender",
    "each_tool/saw/price": 40, "each_tool/vice/price": 95,
}  # fmt: skip
EXAMPLE_OUTSIDE: dict[str, Any] = {
    "enumerator.name": "Ilse Varn",
    "units": {"w7": {"register": "workshops", "label": "Workshop 7", "kind": "workshop", "benches": 4}},
    "earlier": {"workers": 2},
}


def _topic(title: str, text: str, *examples: tuple[str, str, str]) -> Topic:
    return Topic(title, text, [Example(*e) for e in examples])


HELP: list[Topic] = [
    _topic(
        "Comparing",
        "A rule reads like a sentence. A code stands as it is, without quotes. Numbers are exact: 0.1 + 0.2 is 0.3, and 1 / 3 * 3 is 1.",
        ("workers > 2", "yes", "more than two"),
        ("paid <= workers", "yes", "at most as many"),
        ("days_open between 0 and 7", "yes", "both ends belong to it"),
        ("trade is bicycle", "yes", "the code of a single answer"),
        ("trade is not 3", "yes", "a code may be a number"),
        ("trade is one of (phone, 3)", "no", "any of these"),
        ("trade is none of (phone, 3)", "yes", "none of these"),
        ("workers = 3", "yes", "= says the same as is"),
        ("workers != 3", "no", "!= says the same as is not"),
    ),
    _topic(
        "Multiple answers",
        "What was chosen of a list; a ranking is asked the same way.",
        ("tools includes saw", "yes", "this one among them"),
        ("tools includes any of (drill, vice)", "yes", "at least one of these"),
        ("tools includes all of (saw, drill)", "no", "every one of these"),
        ("tools includes only (saw, vice)", "yes", "nothing besides these"),
        ("tools includes best", "yes", "the code that another answer holds"),
        ("count(tools)", "2", "how many were chosen; an exclusive code, such as none of these, is none"),
    ),
    _topic(
        "Answered or not",
        "These are always yes or no. Any other comparison with something missing is unknown: a question is asked only "
        "on a definite yes, and a check is broken only on a definite no.",
        ("workers is answered", "yes", "there is an answer"),
        ("apprentices is missing", "yes", "there is none, for whatever reason"),
        ("apprentices was asked", "no", "it came up in this interview"),
        ("phone is refused", "yes", "the respondent refused"),
        ("paid is not known", "no", "the respondent does not know"),
        ("apprentices > 2", "missing", "unknown: there is no answer"),
        ("apprentices > 2 or workers > 2", "yes", "one definite yes is enough"),
    ),
    _topic(
        "And, or, not, if",
        "“and” binds closer than “or”, “not” closer than both; brackets say it otherwise.",
        ("has_apprentices is no and workers > 2", "yes", "both"),
        ("has_apprentices or workers > 2", "yes", "a yes/no question may stand by itself"),
        ("not has_apprentices", "yes", "the opposite"),
        ("if workers > 2 then paid else 0", "2", "one value or the other"),
    ),
    _topic(
        "Numbers",
        "* and / bind closer than + and -. A division by zero is missing.",
        ("workers - paid", "1", "plus and minus"),
        ("workers * 8 / 2", "12", "times and divided by"),
        ("-workers", "-3", "minus"),
        ("workers / 0", "missing", "division by zero"),
        ("round(days_open / 7, 2)", "0.79", FUNCTIONS["round"].words),
        ("floor(days_open)", "5", FUNCTIONS["floor"].words),
        ("ceiling(days_open)", "6", FUNCTIONS["ceiling"].words),
        ("abs(paid - workers)", "1", FUNCTIONS["abs"].words),
        ("remainder(workers, 2)", "1", FUNCTIONS["remainder"].words),
        ("smallest(workers, paid, apprentices)", "2", "the smallest; missing ones are passed over"),
        ("largest(workers, paid)", "3", "the largest"),
    ),
    _topic(
        "Quantities",
        "A number with a unit. The units of a question are those of its unit list, or one of kg, g, t, l, ml, m3, m, "
        "mm, cm, km, m2, ha, km2. How much a local unit is may be a rule, or be told in another unit: here a sack is 40 kg "
        "in Harbour, else 50, and a basket is 1 sack / 4. "
        "Two quantities are compared in their base unit, and only if they measure the same.",
        ("scrap <= 400 kg", "yes", "3 sacks of 40 kg are 120 kg"),
        ("scrap = 3 sacks", "yes", "a unit of the questionnaire’s own"),
        ("scrap = 12 baskets", "yes", "4 baskets are a sack"),
        ("scrap + 0.5 t", "620", "added in kilograms"),
        ("scrap / 2", "60", "half of it"),
        ("scrap / 1 kg", "120", "a plain number: how many kilograms"),
    ),
    _topic(
        "Texts",
        "In a mask A is a letter, 9 a digit, * either, and ? makes the sign before it optional; all else stands for "
        "itself. Texts stand in straight double quotes.",
        ('unit_code matches "****_999999"', "yes", "four letters or digits, underscore, six digits"),
        ('unit_code matches pattern "[A-Z0-9]+_[0-9]+"', "yes", "a regular expression, as a whole"),
        ("length(unit_code)", "11", FUNCTIONS["length"].words),
        ('upper("bo")', "BO", FUNCTIONS["upper"].words),
        ('lower("BO")', "bo", FUNCTIONS["lower"].words),
        ('trim(" bo ")', "bo", FUNCTIONS["trim"].words),
        ('join(label(trade), ", ", workers)', "Bicycles, 3", FUNCTIONS["join"].words),
        (
            'check_digit_ok("79927398713", "luhn")',
            "yes",
            "luhn, verhoeff, mod 11-2, mod 37-2, mod 97-10, mod 11-10, mod 37-36",
        ),
        ("label(trade)", "Bicycles", "a code’s label in the interview’s language"),
    ),
    _topic(
        "Dates and times",
        "Dates are written year-month-day, times of day with 24 hours. A month later than 31 January is the last day "
        "of February.",
        ("opened < 2020-01-01", "yes", "a date"),
        ("closes >= 18:00", "yes", "a time of day"),
        ("opened + 1 month", "2019-02-28", "days, weeks, months, years"),
        ("visited - 30 minutes", "2027-03-14T09:00+00:00", "minutes and hours, of a date with its time"),
        ("days(opened, 2019-03-01)", "29", FUNCTIONS["days"].words),
        ("months(opened, 2019-03-30)", "1", FUNCTIONS["months"].words),
        ("years(opened, today)", "8", FUNCTIONS["years"].words),
        ("year(opened)", "2019", FUNCTIONS["year"].words),
        ("month(opened)", "1", FUNCTIONS["month"].words),
        ("day(opened)", "31", FUNCTIONS["day"].words),
        ("weekday(opened)", "4", FUNCTIONS["weekday"].words),
        ("visited <= now", "yes", "this moment"),
        ("now - visited < 1 hour", "yes", "the time between two moments"),
        ("interview.started <= now", "yes", "when the interview was begun"),
    ),
    _topic(
        "Places",
        "Distances are in metres, sizes in square metres, measured along the ellipsoid.",
        ("distance(door, gate)", "111.319", FUNCTIONS["distance"].words),
        ("distance(door, gate) < 2 km", "yes", "a distance may be compared with a length"),
        ("length(way)", "222.638", FUNCTIONS["path_length"].words),
        ("size(yard)", "49236.29", FUNCTIONS["size"].words),
        ("inside(door, yard)", "yes", FUNCTIONS["inside"].words),
        ("accuracy(door) <= 12", "yes", FUNCTIONS["accuracy"].words),
    ),
    _topic(
        "Several answers in one go",
        "Whether answers differ from each other, and how often one of them was given.",
        ("different(workers, days_open, 9)", "yes", "no two of them are the same"),
        ("occurs(2, workers, paid, apprentices)", "1", OCCURS_WORDS),
    ),
    _topic(
        "Rosters",
        "Inside a roster a name is the same row’s answer, and “row” its number; where the roster is repeated for each code "
        "or unit, its own name is the code or unit of the row. Outside, say what to make of all rows. Rows without an "
        "answer are passed over.",
        ("count(staff)", "3", AGGREGATE_WORDS["count"]),
        ("count(staff where age >= 15)", "2", "the rows where it is definitely so"),
        ("sum(staff.hours)", "75.5", AGGREGATE_WORDS["sum"]),
        ("sum(staff.hours where role is not owner) / 40", "0.7625", "only some rows"),
        ("mean(staff.hours)", "37.75", AGGREGATE_WORDS["mean"]),
        ("lowest(staff.age)", "13", AGGREGATE_WORDS["lowest"]),
        ("highest(staff.age)", "41", AGGREGATE_WORDS["highest"]),
        ("first(staff.name where role is mender)", "Edda", AGGREGATE_WORDS["first"]),
        ("any(staff where age < 14)", "yes", AGGREGATE_WORDS["any"]),
        ("different(staff.name)", "yes", "each name once"),
        ("every(staff where hours <= 60)", "missing", "unknown: one row has no hours"),
        ("sum(each_tool.price where each_tool is not saw)", "95", "only the rows of some codes"),
    ),
    _topic(
        "Known from outside",
        "What is known besides the answers: the day, the enumerator, the fields of a picked unit of a register, the "
        "same unit’s answer in the earlier round.",
        ("today >= 2027-01-01", "yes", "the day of the interview"),
        ('interview.language is "en"', "yes", "the language it is held in"),
        ('enumerator.name is "Ilse Varn"', "yes", "who asks"),
        ("workshop.benches > 3", "yes", "a field of the unit that was picked"),
        ("workers - earlier.workers", "1", "the answer of the earlier round"),
    ),
    _topic(
        "Comments",
        "From # to the end of the line is for the author only.",
        ("workers > 2  # a family alone does not count", "yes", "the rule without its comment"),
    ),
]
# Forms that have a meaning in one place only.
PLACES: list[tuple[str, str, str]] = [
    ("asked when", "has_apprentices is yes and trade is one of (bicycle, phone)", "asked only on a definite yes"),
    ("must hold", "paid <= workers", "broken only on a definite no; the interview cannot go on"),
    ("should hold", "hours <= 84", "may be kept with a reason"),
    ("repeated", "workers times", "a roster with as many rows"),
    (
        "repeated",
        "for each code in tools",
        "a row for each code chosen, but none for an exclusive one such as none of these",
    ),
    ("repeated", "while another_one is yes", "row after row, as long as it is so in the last one"),
    ("repeated", "for each unit under workshop", "a row for each unit of a register below the picked one"),
    ("code filter", "ward.island is island", "only the codes whose attribute is the answer to island"),
    (
        "code filter",
        "tools includes tool.code",
        "in a later question over the list tool: only the codes chosen in tools",
    ),
    ("derived", "sum(staff.hours) / 40", "a value that follows from answers"),
    ("wording", "Which tools does {name} use on bench {row}?", "answers in braces are filled in"),
    ("wording", "What did the {each_tool} cost?", "in a roster for each code: the label of the row’s code"),
]


def help_as_markdown() -> str:
    """The help as docs/rules.md has it."""
    lines = [
        "# The rule language",
        "",
        "Written by `python -m skavo.core.questionnaire.help`; the examples are run by a test.",
        "",
    ]
    lines += ["## Where rules stand", "", "| where | rule | says |", "| --- | --- | --- |"]
    lines += [f"| {where} | `{rule}` | {words} |" for where, rule, words in PLACES]
    for topic in HELP:
        lines += ["", f"## {topic.title}", "", topic.text, "", "| rule | gives | says |", "| --- | --- | --- |"]
        lines += [f"| `{e.rule.replace('|', chr(92) + '|')}` | {e.gives} | {e.words} |" for e in topic.examples]
    return "\n".join(lines) + "\n"


if __name__ == "__main__":
    print(help_as_markdown(), end="")
