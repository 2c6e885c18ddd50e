"""A cleaning plan replayed. Raw data is never changed: a plan makes a cleaned copy of it, and tells all it did."""

from __future__ import annotations

import logging
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

import polars as pl

from skavo.core.cleaning import cells, impute, rows, texts, variables
from skavo.core.cleaning.plain_texts import folded
from skavo.core.cleaning.steps import AnyStep, Dictionary
from skavo.core.cleaning.work import CHANGES, LEFT_OUT, Told, Work
from skavo.core.dataset.flatten import DataSet
from skavo.core.errors import SkavoError

log = logging.getLogger("skavo")

_APPLIERS: dict[str, Callable[[Work, Any], None]] = {
    "correct": cells.correct,
    "set": cells.set_value,
    "recode": cells.recode,
    "mark_missing": cells.mark_missing,
    "convert": cells.convert,
    "shift": cells.shift,
    "swap_day_month": cells.swap_day_month,
    "tidy": texts.tidy,
    "dictionary": texts.dictionary,
    "read_as": texts.read_as,
    "split": texts.split,
    "join_texts": texts.join_texts,
    "derive": variables.derive,
    "classes": variables.classes,
    "gather": variables.gather,
    "present": variables.present,
    "duplicates": rows.duplicates,
    "rows_out": rows.rows_out,
    "leave_out": rows.leave_out,
    "impute": impute.impute,
    "in_order": cells.in_order,
    "heading": lambda work, step: None,
}


@dataclass(frozen=True)
class Cleaned:
    """`changes` (CHANGES) and `left_out` (LEFT_OUT) name steps by their identity; `problems` are the steps that do not
    fit, with the reason, and were passed over."""

    data: DataSet
    changes: pl.DataFrame = field(default_factory=lambda: pl.DataFrame(schema=CHANGES))
    left_out: pl.DataFrame = field(default_factory=lambda: pl.DataFrame(schema=LEFT_OUT))
    told: dict[int, Told] = field(default_factory=dict)
    problems: dict[int, str] = field(default_factory=dict)

    def touched(self, step: int) -> int:
        """How many cells a step changed and rows it left out."""
        return self._of(self.changes, step) + self._of(self.left_out, step)

    @staticmethod
    def _of(frame: pl.DataFrame, step: int) -> int:
        return frame.filter(pl.col("step") == step).height


def apply_plan(data: DataSet, steps: Sequence[tuple[int, AnyStep]]) -> Cleaned:
    """Replay (identity, step) in order; a step that does not fit is passed over and told, and takes no other down."""
    work = Work(data)
    problems: dict[int, str] = {}
    for identity, step in steps:
        try:
            work = apply_step(work, identity, step)
        except SkavoError as error:
            problems[identity] = error.message
        except Exception as error:
            # What nobody thought of is no reason to lose the data set, nor the page on which the step can be removed.
            log.exception("step %s of a cleaning plan failed", identity)
            problems[identity] = f"It fails on the data as they are now ({type(error).__name__})."
    _met_by_others(work.told, steps)
    return Cleaned(work.data, work.changes, work.left_out, work.told, problems)


def _met_by_others(told: dict[int, Told], steps: Sequence[tuple[int, AnyStep]]) -> None:
    """What one dictionary of a variable has not met, another one may have."""
    dictionaries = [(identity, step) for identity, step in steps if isinstance(step, Dictionary) and identity in told]
    known: dict[str, set[str]] = {}
    for _, step in dictionaries:
        known.setdefault(step.variable, set()).update(map(folded, step.words))
    for identity, step in dictionaries:
        unmet = told[identity].unmet
        told[identity].unmet = {text: n for text, n in unmet.items() if folded(text) not in known[step.variable]}


def apply_step(work: Work, identity: int, step: AnyStep) -> Work:
    """One more step; raise SkavoError where it does not fit, and leave `work` as it was."""
    trial = work.begin(identity)
    _APPLIERS[step.kind](trial, step)
    return trial


def history_of(cleaned: Cleaned, interview: str) -> pl.DataFrame:
    """What the plan changed in one interview (CHANGES)."""
    return cleaned.changes.filter(pl.col("interview") == interview)


@dataclass(frozen=True)
class Undone:
    """Step `by` puts so many cells back to what they were before step `step`."""

    step: int
    by: int
    cells: int


def undone_in(changes: pl.DataFrame) -> list[Undone]:
    """Which steps undo what another one did."""
    place = ["table", "interview", "row", "variable"]
    numbered = changes.with_row_index("#")
    pairs = numbered.join(numbered, on=place, suffix="_later").filter(pl.col("#_later") > pl.col("#"))
    back = pairs.filter(
        pl.col("after_later").eq_missing(pl.col("before")) & pl.col("after_why_later").eq_missing(pl.col("before_why"))
    )
    found = back.group_by("step", "step_later").len().sort("step", "step_later")
    return [Undone(step, by, count) for step, by, count in found.iter_rows()]
