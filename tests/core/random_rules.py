"""Rules made at random over the questionnaire of the help: nearly all of them sound, a few with a type astray."""

from __future__ import annotations

import re

from hypothesis import strategies as st

# What a rule of each type may be made of; a hole names the type that goes there.
FORMS: dict[str, list[str]] = {
    "number": [
        "0", "3", "7.5", "-1", "workers", "paid", "days_open", "apprentices", "workshop.benches", "earlier.workers",
        "{number} + {number}", "{number} - {number}", "{number} * {number}", "{number} / {number}", "-({number})",
        "round({number}, 1)", "floor({number})", "ceiling({number})", "abs({number})", "remainder({number}, {number})",
        "smallest({number}, {number})", "largest({number}, {number}, {number})", "length({text})", "count(tools)",
        "days({date}, {date})", "months({date}, {date})", "years({date}, {date})", "year({date})", "month({date})",
        "day({date})", "weekday({date})", "scrap / 2 kg", "distance(door, gate) / distance(gate, door)",
        "if {yes/no} then {number} else {number}", "count(staff)", "count(staff where {row yes/no})",
        "occurs({number}, workers, paid)",
        "sum(staff.{row number} where {row yes/no})", "mean(staff.age)", "lowest(staff.hours)",
        "highest(staff.age where {row yes/no})", "first(staff.hours)", "sum(each_tool.price)",
    ],
    "row number": ["age", "hours"],
    "yes/no": [
        "yes", "no", "has_apprentices", "{number} > {number}", "{number} <= {number}", "{number} is {number}",
        "{number} != {number}", "{number} between {number} and {number}", "{number} is one of ({number}, {number})",
        "{date} < {date}", "{date} between {date} and {date}", "{text} is {text}", "{text} is not {text}",
        "trade is bicycle", "trade is not 3", "ward is one of (k1, l1)", "trade is none of (phone, bicycle)",
        "tools includes saw", "tools includes any of (saw, drill)", "tools includes all of (saw, vice)",
        "tools includes only (saw, vice)",
        "tools includes best", "tools includes any of (best, drill)", "tools includes all of (best, vice)",
        "tools includes only (best, vice)", "best is not saw", "{variable} is answered", "{variable} is missing", "paid is not known",
        "paid is refused", "apprentices was asked", '{text} matches "***9_999999?"', '{text} matches pattern "[A-Z]+.*"',
        "({yes/no}) and ({yes/no})", "({yes/no}) or ({yes/no})", "not ({yes/no})", "scrap <= 400 kg", "scrap > 3 sack",
        "if {yes/no} then {yes/no} else {yes/no}", "any(staff where {row yes/no})", "every(staff where {row yes/no})",
        "inside(door, yard)", "distance(door, gate) < 200", "size(yard) > 10", "length(way) >= 1", "closes < 18:30",
        "visited > 2027-01-01", 'check_digit_ok(phone, "luhn")', "today > {date}", "first(staff.role) is owner",
        "({yes/no}) is ({yes/no})", "{moment} < {moment}", "{moment} - {moment} > 90 minutes", "{moment} >= {date}",
        "first(staff.hours) > 3 and count(staff) is {number}", "different({number}, {number}, {number})",
        "different(staff.name)", "different(staff.{row number} where {row yes/no})",
    ],
    "row yes/no": [
        "age >= {number}", "hours > age", "age is highest(staff.age)", "hours > mean(staff.hours where {row yes/no})",
        "count(staff where age > 14) > row", "first(staff.name) is name", "any(staff where role is owner) and row > 1", "role is owner", "role is not mender", "name is answered", "row = 2",
        "hours is missing", "name is {text}", "({row yes/no}) and {yes/no}", "not ({row yes/no})",
        "({row yes/no}) or ({row yes/no})",
    ],
    "text": [
        '""', '"KE4X_123456"', "unit_code", "phone", "upper({text})", "lower({text})", "trim({text})",
        "join({text}, {number}, {date})", "label(trade)", "first(staff.name where {row yes/no})", "enumerator.name",
        "interview.language", "if {yes/no} then {text} else {text}",
    ],
    "date": [
        "2026-02-28", "2024-02-29", "opened", "today", "{date} + 3 months", "{date} - 45 days", "{date} + 1 years",
        "if {yes/no} then {date} else {date}", "{date} + (if {yes/no} then 3 days else 1 months)",
    ],
    "moment": [
        "visited", "now", "interview.started", "{moment} + 2 days", "{moment} - 90 minutes", "{moment} + 1 months",
    ],
    "variable": ["workers", "phone", "tools", "opened", "door", "scrap", "yard", "visited", "workshop", "best", "has_apprentices"],
}  # fmt: skip
_HOLE = re.compile(r"\{(.+?)\}")
_LEAVES = {kind: [form for form in forms if "{" not in form] or forms for kind, forms in FORMS.items()}


@st.composite
def random_rules(draw: st.DrawFn, kind: str, depth: int = 3, astray: bool = False) -> str:
    """A rule of a type; `astray` now and then puts something of another type in."""

    def fill(kind: str, left: int) -> str:
        if astray and kind != "row number" and draw(st.integers(0, 19)) == 0:
            kind = draw(st.sampled_from(["number", "yes/no", "text", "date", "row yes/no"]))
        form = draw(st.sampled_from(FORMS[kind] if left > 0 else _LEAVES[kind]))
        return _HOLE.sub(lambda hole: _bracketed(fill(hole[1], left - 1)), form)

    return fill(kind, depth)


def _bracketed(text: str) -> str:
    return text if re.fullmatch(r"[\w.]+|\"[^\"]*\"", text) else f"({text})"
