"""A plan as a plain text that a person can read and sign: each step a sentence, with who kept it, when and why."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from skavo.core.cleaning.steps import AnyStep
from skavo.core.dataset.layout import MISSING_WORDS


@dataclass(frozen=True)
class PlanLine:
    """A step as it stands in the plan, and what it did."""

    step: AnyStep
    by: str
    at: datetime
    off: bool = False
    remark: str = ""
    cells: int = 0
    rows: int = 0
    problem: str = ""


def sentence_of(step: AnyStep) -> str:
    """What a step does, in a sentence without its end."""
    return _SENTENCES[step.kind](step)


def _where(rule: str) -> str:
    return f" where {rule}" if rule.strip() else ""


def _pairs(mapping: dict[str, str]) -> str:
    return "; ".join(f"{key} → {value}" for key, value in mapping.items())


def _correct(s: Any) -> str:
    value = MISSING_WORDS[s.missing] if s.missing else s.value
    return f"{s.variable} in {' / '.join([s.interview, *s.row])} is {value}"


def _new_codes(codes: dict[str, str]) -> str:
    return f" (new codes: {_pairs(codes)})" if codes else ""


def _impute(s: Any) -> str:
    with_ = {"fixed": f"the value {s.value}", "donor": f"the value of a donor drawn with seed {s.seed}"}
    kinds = ", ".join(MISSING_WORDS[kind] for kind in s.missing)
    by = f" within {', '.join(s.by)}" if s.by else ""
    return f"{s.variable}, where {kinds}, is filled in with {with_.get(s.way, f'the {s.way}')}{by}; flagged"


def _duplicates(s: Any) -> str:
    same = f"of interviews with the same {', '.join(s.variables)} the {s.keep} stays" if s.variables else ""
    hand = f"another copy by hand: {_pairs(s.by_hand)}" if s.by_hand else ""
    apart = f"no copies: {'; '.join(' and '.join(pair) for pair in s.apart)}" if s.apart else ""
    return ", ".join(piece for piece in (same, hand, apart) if piece)


def _rows_out(s: Any) -> str:
    listed = f" and {'; '.join(' / '.join(row) for row in s.rows)}" if s.rows else ""
    but = f", but not {'; '.join(' / '.join(row) for row in s.but)}" if s.but else ""
    return f"rows of {s.table} left out{_where(s.rule)}{listed}{but}"


def _classes(s: Any) -> str:
    ends = "; ".join(f"{c.code} {'the rest' if c.below is None else f'below {c.below:g}'}" for c in s.classes)
    return f"new variable {s.into}: {s.variable} in classes ({ends})"


def _tidy(s: Any) -> str:
    does = [words for on, words in (
        (s.trim, "no spaces at the ends"), (s.blanks, "single spaces"), (s.alike, "look-alike letters as plain ones"),
        (s.case, f"letters: {s.case}"),
    ) if on]  # fmt: skip
    return f"{s.variable} spelt alike: {', '.join(does)}"


_SENTENCES: dict[str, Callable[[Any], str]] = {
    "correct": _correct,
    "set": lambda s: f"{s.variable} becomes {s.formula}{_where(s.rule)}",
    "recode": lambda s: f"{s.variable} recoded: {_pairs(s.mapping)}{_new_codes(s.codes)}",
    "mark_missing": lambda s: f"{s.variable} is {MISSING_WORDS[s.missing]}{_where(s.rule)}",
    "tidy": _tidy,
    "convert": lambda s: f"{s.variable} is {s.amount} times what its {s.unit} holds: {_pairs(s.factors)}",
    "shift": lambda s: f"{s.variable} moved by {s.by} {s.unit}{_where(s.rule)}",
    "swap_day_month": lambda s: f"{s.variable} with day and month changed over{_where(s.rule)}",
    "dictionary": lambda s: f"{s.variable} taken into codes of {s.into}: {_pairs(s.words)}{_new_codes(s.codes)}",
    "derive": lambda s: f"new variable {s.into} in {s.table} = {s.formula}",
    "classes": _classes,
    "read_as": lambda s: f"new variable {s.into}: what {s.variable} says, as a {s.measure}",
    "split": lambda s: (
        f"{s.variable} split into variables{': ' + ', '.join(s.into) if s.into else ', one for each code'}"
    ),
    "gather": lambda s: f"new variable {s.into} gathered: {_pairs(s.codes)}",
    "join_texts": lambda s: f"new variable {s.into} joined of {', '.join(s.variables)}",
    "present": lambda s: (
        f"{s.variable} is handed over{f' as {s.name}' if s.name else ''}{f', labelled {_pairs(s.label)}' if s.label else ''}{f', before {s.before}' if s.before else ''}"
    ),
    "duplicates": _duplicates,
    "rows_out": _rows_out,
    "leave_out": lambda s: (
        f"interviews left out{_where(s.rule)}{' ' + ', '.join(s.interviews) if s.interviews else ''}"
    ),
    "impute": _impute,
    "in_order": lambda s: f"{s.variable}: looked at ({s.finding.replace('_', ' ')}, {s.count}) and in order",
    "heading": lambda s: s.text,
}


def _counted(count: int, one: str, many: str) -> str:
    return f"{count} {one if count == 1 else many}" if count else ""


def plan_text(title: str, about: str, lines: Iterable[PlanLine]) -> str:
    """The whole plan; `about` says of which data set at which revision."""
    written = [title, "=" * len(title), about, ""]
    number = 0
    for line in lines:
        if line.step.kind == "heading":
            written += ["", line.step.text, "-" * len(line.step.text)]
            continue
        number += 1
        off = " [off]" if line.off else ""
        written.append(f"{number:>3}. {sentence_of(line.step)}.{off}")
        notes = [
            f"Why: {line.step.reason}" if line.step.reason else "",
            f"Remark: {line.remark}" if line.remark else "",
            f"Does not fit: {line.problem}" if line.problem else "",
            _counted(line.cells, "cell", "cells"),
            _counted(line.rows, "row left out", "rows left out"),
            f"{line.by}, {line.at:%Y-%m-%d %H:%M} UTC",
        ]
        written.append("     " + " · ".join(note for note in notes if note))
    return "\n".join([*written, "", "", "Signed: ______________________    Date: ______________", ""])
