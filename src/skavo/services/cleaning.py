"""The clean station: what the data set holds, what a step would do to it, what the plan has changed."""

from __future__ import annotations

import polars as pl
from pydantic import BaseModel, Field

from skavo.core.cleaning.figures import counted_values, figures_of
from skavo.core.cleaning.naming import made_by
from skavo.core.cleaning.plan import apply_step
from skavo.core.cleaning.steps import AnyStep, Dictionary, Step
from skavo.core.cleaning.work import Work
from skavo.core.dataset.flatten import DataSet
from skavo.core.dataset.layout import MISSING_WORDS, label_in
from skavo.formats.csv_files import rows_text
from skavo.services.desk import Desk
from skavo.services.plans import MOST_UNMET, TRIED, work_before
from skavo.store.datasets import plan_of
from skavo.store.plan_lines import numbers_of
from skavo.store.sensitive import masked_step

MOST_SHOWN = 200
MOST_CHANGES = 5_000


class VariableOut(BaseModel):
    """A variable of the data set, with how many rows have a value and how many do not, by kind."""

    variable: str
    table: str
    kind: str
    measure: str
    label: str
    codes: dict[str, str]
    values: int
    missing: dict[str, int]
    origin: str


class ChangeOut(BaseModel):
    """A changed cell: texts as they are shown, and why there is none."""

    step: int
    table: str
    interview: str
    row: list[str]
    variable: str
    before: str | None
    before_why: str | None
    after: str | None
    after_why: str | None


class LeftOutOut(BaseModel):
    step: int
    table: str
    interview: str
    row: list[str]
    copy_of: str | None


class ChangesOut(BaseModel):
    """`changes` and `left_out` are the first of so many."""

    cells: int
    changes: list[ChangeOut]
    rows: int
    left_out: list[LeftOutOut]


class ChangesQuery(BaseModel):
    """Which changes are meant: of a step, a variable, an interview; all of them otherwise."""

    step: int | None = None
    variable: str = ""
    interview: str = ""
    offset: int = Field(default=0, ge=0)
    limit: int = Field(default=MOST_SHOWN, ge=1, le=MOST_CHANGES)


class FiguresOut(BaseModel):
    base: int
    values: dict[str, int]
    missing: dict[str, int]
    mean: float | None
    median: float | None
    lowest: float | None
    highest: float | None


class Preview(BaseModel):
    """What a step would do on top of the steps before it, and its variable in figures before and after."""

    cells: int
    rows: int
    interviews: int
    changes: list[ChangeOut]
    left_out: list[LeftOutOut]
    made: list[str]
    unmet: dict[str, int]
    by_rows: int
    before: FiguresOut | None
    after: FiguresOut | None


def list_variables(desk: Desk, questionnaire_id: int) -> list[VariableOut]:
    """Every variable of the data set, in the order of its tables."""
    with desk.store.reading() as session:
        return variables_of(desk.data(session, questionnaire_id).data)


def variables_of(data: DataSet) -> list[VariableOut]:
    return [
        VariableOut(
            variable=c.variable, table=table.layout.name, kind=c.kind, measure=c.measure,
            label=label_in(c.label, "en", c.variable), origin=c.origin,
            codes={code: label_in(texts, "en", code) for code, texts in c.codes.items()},
            values=int(table.frame[c.variable].is_not_null().sum()),
            missing={str(k): n for k, n in table.frame[f"{c.variable}?"].drop_nulls().value_counts().iter_rows()},
        )
        for table in data.values()
        for c in table.layout.columns
    ]  # fmt: skip


class ValueCount(BaseModel):
    value: str
    count: int


class ValuesOut(BaseModel):
    """The values of a variable as texts, commonest first: the first of so many different ones."""

    distinct: int
    values: list[ValueCount]


def list_values(desk: Desk, questionnaire_id: int, variable: str, like: str = "") -> ValuesOut:
    """What stands in a variable after the plan; `like` is a piece of the values that are meant."""
    with desk.store.reading() as session:
        work = Work(desk.data(session, questionnaire_id).cleaned.data)
    table, _ = work.find(variable)
    counts = counted_values(table.frame[variable])
    wanted = [(value, count) for value, count in counts if like.casefold() in value.casefold()]
    return ValuesOut(
        distinct=len(wanted), values=[ValueCount(value=value, count=count) for value, count in wanted[:MOST_SHOWN]]
    )


def preview_step(
    desk: Desk, questionnaire_id: int, step: Step, after: int | None = None, instead_of: int | None = None
) -> Preview:
    """What `step` would do, behind another step or in the place of one; nothing is kept."""
    with desk.store.reading() as session:
        prepared = desk.data(session, questionnaire_id)
        steps = plan_of(session, questionnaire_id)
    work = work_before(prepared, steps, after=after, instead_of=instead_of)
    tried = apply_step(work, TRIED, step)
    changes = tried.changes.filter(pl.col("step") == TRIED)
    left_out = tried.left_out.filter(pl.col("step") == TRIED)
    touched = pl.concat([changes["interview"], left_out["interview"]]).n_unique()
    tells = tried.told[TRIED]
    variable = _about(step)
    return Preview(
        cells=changes.height, rows=left_out.height, interviews=touched, changes=_changes(changes.head(MOST_SHOWN)),
        left_out=_left_out(left_out.head(MOST_SHOWN)), made=tells.made,
        unmet=dict(list(tells.unmet.items())[:MOST_UNMET]), by_rows=tells.by_rows,
        before=_figures(work.data, variable), after=_figures(tried.data, variable or next(iter(tells.made), "")),
    )  # fmt: skip


def _about(step: AnyStep) -> str:
    """The variable whose cells a step changes."""
    return step.into if isinstance(step, Dictionary) else getattr(step, "variable", "") if not made_by(step) else ""


def _figures(data: DataSet, variable: str) -> FiguresOut | None:
    found = figures_of(data, variable)
    return FiguresOut.model_validate(found, from_attributes=True) if found is not None else None


def _changes(frame: pl.DataFrame) -> list[ChangeOut]:
    return [ChangeOut.model_validate(row) for row in frame.iter_rows(named=True)]


def _left_out(frame: pl.DataFrame) -> list[LeftOutOut]:
    return [LeftOutOut.model_validate(row) for row in frame.iter_rows(named=True)]


def list_changes(desk: Desk, questionnaire_id: int, query: ChangesQuery) -> ChangesOut:
    """Cells that the plan changed and rows that it left out, in the order of the plan."""
    with desk.store.reading() as session:
        cleaned = desk.data(session, questionnaire_id).cleaned
    changes, left_out = _narrowed(cleaned.changes, query), _narrowed(cleaned.left_out, query)
    if query.variable:
        left_out = left_out.clear()
    return ChangesOut(
        cells=changes.height, changes=_changes(changes.slice(query.offset, query.limit)), rows=left_out.height,
        left_out=_left_out(left_out.slice(query.offset, query.limit)),
    )  # fmt: skip


def _narrowed(frame: pl.DataFrame, query: ChangesQuery) -> pl.DataFrame:
    if query.step is not None:
        frame = frame.filter(pl.col("step") == query.step)
    if query.variable and "variable" in frame.columns:
        frame = frame.filter(pl.col("variable") == query.variable)
    return frame.filter(pl.col("interview") == query.interview) if query.interview else frame


def changes_file(desk: Desk, questionnaire_id: int, query: ChangesQuery) -> str:
    """All changes that are meant as a .csv file, with the number of each step in the plan, its kind and its reason."""
    with desk.store.reading() as session:
        prepared = desk.data(session, questionnaire_id)
        steps = plan_of(session, questionnaire_id)
    bodies = [masked_step(step.body, prepared.hidden_from) for step in steps]
    numbers = numbers_of(steps)
    about = pl.DataFrame(
        {
            "step": [step.id for step in steps], "number": [numbers.get(step.id) for step in steps],
            "kind": [body["kind"] for body in bodies], "reason": [body.get("reason", "") for body in bodies],
            "by": [step.created_by for step in steps],
        },
        schema_overrides={"step": pl.Int64, "number": pl.Int64},
    )  # fmt: skip
    changes = _narrowed(prepared.cleaned.changes, query)
    rows = changes.join(about, on="step", how="left", maintain_order="left")
    texts = rows.select(
        pl.col("number").alias("step"), "kind", "table", "interview", pl.col("row").list.join(" / "), "variable",
        _cell("before"), _cell("after"), "reason", "by",
    )  # fmt: skip
    return rows_text(texts.columns, texts.iter_rows())


def _cell(side: str) -> pl.Expr:
    words = pl.col(f"{side}_why").cast(pl.String).replace(MISSING_WORDS)
    return pl.coalesce(side, pl.format("[{}]", words)).alias(side)
