"""The plan of a data set as lines that can be read and signed."""

from __future__ import annotations

import polars as pl

from skavo.core.cleaning.steps import read_step
from skavo.core.cleaning.words import PlanLine
from skavo.store.datasets import Prepared
from skavo.store.models import PlanStep
from skavo.store.sensitive import Hidden, masked_step


def lines_of(prepared: Prepared, steps: list[PlanStep], hidden: Hidden) -> list[PlanLine]:
    """Each step with what it did; what it says of anything `hidden` is masked."""
    cleaned = prepared.cleaned
    cells, rows = _counts(cleaned.changes), _counts(cleaned.left_out)
    return [
        PlanLine(
            read_step(masked_step(step.body, hidden)), step.created_by, step.created_at, step.off, step.remark,
            cells.get(step.id, 0), rows.get(step.id, 0), cleaned.problems.get(step.id, ""),
        )
        for step in steps
    ]  # fmt: skip


def numbers_of(steps: list[PlanStep]) -> dict[int, int]:
    """The number of each step in the plan as it is shown: a heading has none, and is left out."""
    acting = [step.id for step in steps if step.body["kind"] != "heading"]
    return {step: number for number, step in enumerate(acting, 1)}


def _counts(frame: pl.DataFrame) -> dict[int, int]:
    return dict(frame.group_by("step").len().iter_rows())
