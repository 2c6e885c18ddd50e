"""What is sensitive in a questionnaire, by its draft and all its releases together, and how it is hidden."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any

import polars as pl
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.cleaning.plan import Cleaned
from skavo.core.combining.join import JoinReport, names_taken
from skavo.core.combining.near import NearFound
from skavo.core.combining.spec import read_join, variables_named
from skavo.core.dataset.flatten import DataSet, Table, without_sensitive
from skavo.core.dataset.layout import Column, TableLayout, layout_of
from skavo.core.dataset.pieces import PIECES
from skavo.core.interview.release import PartSpec
from skavo.core.interview.release import Release as EngineRelease
from skavo.core.interview.sensitive import marked_in, sensitive_parts
from skavo.core.visits.asked import asked_by, telling_of_units
from skavo.store.laying import loaded_release
from skavo.store.models import OutsideTable, Questionnaire, Release
from skavo.store.registers import kinds_of

MASK = "•••"
_NAME = re.compile(r"[a-z][a-z0-9_]*(?:\.[a-z0-9_]+)*")


@dataclass(frozen=True)
class Hidden:
    """The sensitive parts of a questionnaire: identities, and the columns that any release calls them.

    `tables` are the outside tables joined by a sensitive key: what they add tells who somebody is.
    """

    ids: frozenset[str] = frozenset()
    variables: frozenset[str] = frozenset()
    tables: frozenset[str] = frozenset()

    def has(self, variable: str) -> bool:
        return variable in self.variables

    def is_read_by(self, rule: str) -> bool:
        """Whether a rule speaks of anything hidden; a name inside a text counts as well."""
        return any(self.has(piece) for name in _NAME.findall(rule.lower()) for piece in (name, name.split(".")[-1]))

    def parts_of(self, release: EngineRelease) -> frozenset[int]:
        return frozenset(part.index for part in release.parts if part.raw["id"] in self.ids)


def hidden_of(session: Session, questionnaire_id: int | None) -> Hidden:
    """What is sensitive now: a mark counts for every release, also before the draft that carries it is released."""
    questionnaire = session.get(Questionnaire, questionnaire_id) if questionnaire_id is not None else None
    if questionnaire is None:
        return Hidden()
    mine = select(Release).where(Release.questionnaire_id == questionnaire.id).order_by(Release.number)
    releases = [loaded_release(release) for release in session.scalars(mine)]
    marked = marked_in(releases, questionnaire.script.get("parts", ()))
    marked |= _telling_of_units(session, questionnaire.study_id, releases)
    found = [release.parts[index] for release in releases for index in sensitive_parts(release, marked)]
    ids = marked | {part.raw["id"] for part in found}
    variables = {name for part in found if part.variable for name in _columns(part)}
    variables |= {
        c.variable
        for table in layout_of(releases).values()
        for c in table.columns
        if not ids.isdisjoint({c.part_id, *c.sources})
    }
    outside = select(OutsideTable).where(OutsideTable.questionnaire_id == questionnaire.id)
    joins = {table.name: read_join(table.joined) for table in session.scalars(outside) if table.joined}
    telling = {name: join for name, join in joins.items() if variables_named(join) & variables}
    variables |= {made for name, join in telling.items() for made in names_taken(name, join).values()}
    return Hidden(ids, frozenset(variables), frozenset(telling))


def _telling_of_units(session: Session, study_id: int, releases: list[EngineRelease]) -> frozenset[str]:
    """The parts that tell a sensitive field of a unit of the study's register, or what it is called by such a field."""
    if not any(asked_by(release).of_unit for release in releases):
        return frozenset()
    fields = set()
    for kind in kinds_of(session, study_id):
        fields |= {part.raw["variable"] for part in kind.form.fields if part.raw["id"] in kind.hidden}
        fields |= {"label"} if kind.settings.label in kind.hidden else set()
    return frozenset(part for release in releases for part in telling_of_units(release, fields))


def _columns(part: PartSpec) -> list[str]:
    return [part.variable, *(part.variable + piece.suffix for piece in PIECES.get(part.kind.name, ()))]


def flagged(data: DataSet, hidden: Hidden) -> DataSet:
    """The data set with every sensitive column marked as such."""
    return {name: Table(_flagged(table, hidden), table.frame) for name, table in data.items()}


def _flagged(table: Table, hidden: Hidden) -> TableLayout:
    return replace(
        table.layout,
        columns=tuple(replace(c, sensitive=c.sensitive or _tells(c, hidden)) for c in table.layout.columns),
    )


def _tells(column: Column, hidden: Hidden) -> bool:
    """Whether what stands in a column comes from something sensitive, by whichever steps."""
    return not hidden.ids.isdisjoint({column.part_id, *column.sources}) or column.origin in hidden.tables


def with_made(hidden: Hidden, data: DataSet) -> Hidden:
    """What is hidden, with the variables that steps have made or renamed."""
    names = {c.variable for table in data.values() for c in table.layout.columns if c.sensitive}
    return replace(hidden, variables=hidden.variables | names)


def masked_changes(cleaned: Cleaned, hidden: Hidden) -> Cleaned:
    """What the plan changed, with the values of sensitive variables hidden."""
    is_hidden = pl.col("variable").is_in(list(hidden.variables))
    masks = [pl.when(is_hidden).then(pl.lit(MASK)).otherwise(name).alias(name) for name in ("before", "after")]
    blanks = [pl.when(~is_hidden).then(name).alias(name) for name in ("before_why", "after_why")]
    changes = cleaned.changes.with_columns(*masks, *blanks)
    told = {
        step: replace(tells, unmet={MASK: len(tells.unmet)} if tells.unmet else {})
        for step, tells in cleaned.told.items()
    }
    return replace(cleaned, data=without_sensitive(cleaned.data), changes=changes, told=told)


def masked_report(report: JoinReport) -> JoinReport:
    """A report of a join by something sensitive: how many of each, and none of the keys."""

    def masked(frame: pl.DataFrame, *columns: str) -> pl.DataFrame:
        return frame.with_columns(pl.lit(MASK).alias(name) for name in columns)

    return replace(
        report, unmatched=masked(report.unmatched, "value"), unmatched_rows=masked(report.unmatched_rows, "value"),
        ambiguous=masked(report.ambiguous, "value"), repeated=masked(report.repeated, "value"),
        otherwise=report.otherwise.clear(), found=NearFound(),
    )  # fmt: skip


# What a step says of answers, besides the variables that it names.
_SAYS = {
    "mapping", "value", "rule", "reason", "formula", "words", "codes", "factors", "label", "replaces", "by_hand", "rows",
    "interviews", "but", "apart",
}  # fmt: skip


def masked_step(body: dict[str, Any], hidden: Hidden) -> dict[str, Any]:
    """A step of the plan as it is kept, without what it says of sensitive answers: codes, values, rules, reasons."""
    if not any(hidden.is_read_by(text) for text in _texts_in(body)):
        return body
    return {name: _masked(value) if name in _SAYS else _without_limits(name, value) for name, value in body.items()}


def _masked(value: Any) -> Any:
    if isinstance(value, dict):
        return {MASK: MASK} if value else {}
    return [] if isinstance(value, list) else MASK if value not in ("", None) else value


def _without_limits(name: str, value: Any) -> Any:
    return [{"code": MASK, "label": "", "below": None}] if name == "classes" else value


def _texts_in(value: Any) -> Iterator[str]:
    if isinstance(value, str):
        yield value
    elif isinstance(value, dict):
        yield from (text for piece in value.items() for part in piece for text in _texts_in(part))
    elif isinstance(value, list):
        yield from (text for part in value for text in _texts_in(part))
