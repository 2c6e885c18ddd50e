"""Plan, registers: units from files and into files."""

from __future__ import annotations

from pathlib import Path
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from skavo.core.errors import DataError
from skavo.core.register.bring_in import ABOVE, KEY, KIND, guess_columns
from skavo.core.register.narrowing import Narrowing
from skavo.formats.units_in import read_units
from skavo.jobs.registers import BRINGING_IN, TAKING_OUT
from skavo.services.desk import Desk
from skavo.services.found import the_study
from skavo.services.jobs import JobOut, order_job
from skavo.store.files import keep_file
from skavo.store.registers import kinds_of

_SAMPLES = 3


class ColumnOut(BaseModel):
    """A column of the file, the first cells of it, and what it probably is: a column of a field, `#key`, `#above`, `#kind`, or
    "" for nothing."""

    heading: str
    samples: list[str]
    what: str


class UnitsTableOut(BaseModel):
    """A file that was sent; `file` is its hash."""

    file: str
    name: str
    rows: int
    columns: list[ColumnOut]


class BringInOrder(BaseModel):
    """`kind` is the kind of every row, 0 where a column says it. A `trial` keeps nothing; else doubtful rows come in
    if `doubtful` is set. With `empties` an empty cell empties its field."""

    model_config = ConfigDict(extra="forbid")
    file: str = Field(pattern="^[0-9a-f]{64}$")
    name: str = Field(min_length=1, max_length=200)
    kind: int = Field(default=0, ge=0)
    columns: dict[str, str] = Field(max_length=2000)
    empties: bool = False
    doubtful: bool = False
    trial: bool


class TakeOutOrder(BaseModel):
    model_config = ConfigDict(extra="forbid")
    narrowing: Narrowing = Field(default=Narrowing())
    format: Literal["csv", "xlsx", "geojson"] = "xlsx"


def take_file(desk: Desk, study_id: int, name: str, sent: Path) -> UnitsTableOut:
    """Keep a file that was sent, and say what is in it."""
    desk.needs_whole_study("Registers")
    content = sent.read_bytes()
    file = read_units(name, content)
    with desk.store.reading() as session:
        the_study(session, study_id)
        kinds = kinds_of(session, study_id)
    guessed = guess_columns(file.headings, kinds)
    first = [cells for _, cells in file.rows[:_SAMPLES]]
    return UnitsTableOut(
        file=keep_file(desk.store.files, content), name=name, rows=len(file.rows),
        columns=[
            ColumnOut(heading=h, samples=[cells.get(h, "")[:60] for cells in first], what=guessed[h]) for h in file.headings
        ],
    )  # fmt: skip


def order_bringing_in(desk: Desk, study_id: int, wanted: BringInOrder) -> JobOut:
    """Judge the rows of a file, or let them come in, as a job."""
    desk.needs_whole_study("Registers")
    with desk.store.reading() as session:
        kinds = kinds_of(session, study_id)
    known = {KEY, ABOVE, KIND, ""} | {column for kind in kinds for column in kind.columns}
    taken: set[str] = set()
    for heading, what in wanted.columns.items():
        if what not in known:
            raise DataError("unknown_field", f"“{what}” is no field of a kind of this register.", {"column": heading})
        if what and what in taken:
            raise DataError(
                "taken_twice", f"Two columns are said to be {what}. Leave one of them out.", {"column": heading}
            )
        taken.add(what)
    if KEY not in taken:
        raise DataError("no_key", "Say which column is the key: by it units are found again.")
    if wanted.kind == 0 and KIND not in taken:
        raise DataError("no_kind", "Say of which kind the units are, or which column says it.")
    order = {"study_id": study_id, **wanted.model_dump(mode="json"), "by": desk.name, "by_id": desk.person_id}
    return order_job(desk, study_id, BRINGING_IN, order)


def order_taking_out(desk: Desk, study_id: int, wanted: TakeOutOrder) -> JobOut:
    """Write the units that a narrowing means into a file, as a job; without sensitive fields for whoever may not see them."""
    desk.needs_whole_study("Files of the register")
    order = {"study_id": study_id, **wanted.model_dump(mode="json"), "masked": not desk.sees_sensitive}
    return order_job(desk, study_id, TAKING_OUT, order)
