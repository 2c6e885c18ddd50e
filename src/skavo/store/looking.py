"""Tables that were sent and are looked at: read, their columns recognised and told, and kept in memory for a while."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.combining.look import ColumnLook, look_at_column
from skavo.core.combining.outside import OutsideColumn, recognised
from skavo.core.errors import SkavoError
from skavo.formats.tables_in import read_table_in
from skavo.formats.tables_in.told import FileReading, TableIn
from skavo.store.datasets import DataSets
from skavo.store.files import sound_file
from skavo.store.models import SentTable
from skavo.store.waited_for import BeingPrepared

LOOKING = "table look"
# A file of more bytes, or columns of more cells, are not gone through while a page waits.
MOST_BYTES, MOST_CELLS = 20_000_000, 3_000_000


class LookIn(BaseModel):
    """Which file is looked at, and how it is read; where `columns` is None that is to be found out."""

    model_config = ConfigDict(extra="forbid")

    file: str = Field(pattern="^[0-9a-f]{64}$")
    file_name: str = Field(min_length=1, max_length=200)
    reading: FileReading = Field(default=FileReading())
    columns: list[OutsideColumn] | None = Field(default=None, max_length=20_000)


class KeptIn(BaseModel):
    """A table that was brought in: its cells, and how all of its columns are read."""

    kept: str
    name: str
    columns: list[OutsideColumn]


@dataclass
class _Seen:
    """What is known so far of a table that is read in one way. `recognised` has how each column looks to be read, `looks`
    what was seen of it, by how it was read; `refused` says why the file is no table."""

    table: TableIn | None = None
    refused: SkavoError | None = None
    recognised: dict[str, OutsideColumn] = field(default_factory=dict)
    looks: dict[str, ColumnLook] = field(default_factory=dict)


class Looking:
    """One look at a table: a file that was sent, or the cells of one that was brought in."""

    def __init__(self, sets: DataSets, asked: LookIn | KeptIn) -> None:
        self.sets, self.asked = sets, asked
        self.name = asked.file_name if isinstance(asked, LookIn) else asked.name
        self._said = {column.name: column for column in asked.columns or []}
        self._seen: _Seen = sets.looked.get(self._key(), _Seen)

    def _key(self, reading: FileReading | None = None) -> tuple[str, ...]:
        if isinstance(self.asked, KeptIn):
            return ("looked", self.asked.kept)
        return ("looked", self.asked.file, self.name, (reading or self.asked.reading).model_dump_json())

    def table(self) -> TableIn:
        """What the file holds; raise DataError where it is no table."""
        if self._seen.refused is not None:
            raise self._seen.refused
        if self._seen.table is None:
            try:
                found = self._seen.table = self._read()
                # Whoever says next how it is to be read says what was found out now.
                self.sets.looked.get(self._key(found.reading), lambda: self._seen)
            except SkavoError as error:
                self._seen.refused = error
                raise
        return self._seen.table

    def _read(self) -> TableIn:
        if isinstance(self.asked, KeptIn):
            return TableIn("parquet", self.sets.cells(self.asked.kept), FileReading())
        return read_table_in(self.name, sound_file(self.sets.files, self.asked.file), self.asked.reading)

    def columns(self) -> Iterator[OutsideColumn]:
        """How each column is read: as was said, as the file describes it, and as it looks where nothing was said of it."""
        table, seen = self.table(), self._seen
        for name in table.frame.columns:
            told = self._said.get(name) or table.known.get(name)
            if told is None and name not in seen.recognised:
                (seen.recognised[name],) = recognised(table.frame.select(name))
            yield told or seen.recognised[name]

    def looks(self, say: Callable[[float, str], None] = lambda _, __: None) -> list[ColumnLook]:
        """Every column, in order; `say` is told how far it is."""
        say(0, f"Reading {self.name}")
        table, seen, found = self.table(), self._seen, []
        for place, column in enumerate(self.columns()):
            key = column.model_dump_json()
            if key not in seen.looks:
                say((place + 1) / (len(table.frame.columns) + 1), f"Looking at {column.name}")
                seen.looks[key] = look_at_column(table.frame, column)
            found.append(seen.looks[key])
        return found

    def not_at_once(self, questionnaire_id: int) -> None:
        """Raise BeingPrepared where this would keep a page waiting."""
        if self._seen.refused is None and self._is_long():
            message = f"{self.name} is large; it is being looked at. What it holds is shown here by itself."
            raise BeingPrepared(LOOKING, questionnaire_id, message, {"asked": self.asked.model_dump(mode="json")})

    def _is_long(self) -> bool:
        table, seen = self._seen.table, self._seen
        if table is None:
            file = self.asked.file if isinstance(self.asked, LookIn) else self.asked.kept
            return sound_file(self.sets.files, file).stat().st_size > MOST_BYTES
        known = {**seen.recognised, **table.known, **self._said}
        new = [n for n in table.frame.columns if n not in known or known[n].model_dump_json() not in seen.looks]
        return len(new) * table.frame.height > MOST_CELLS


def was_sent(session: Session, questionnaire_id: int, file: str) -> bool:
    """Whether a file was sent to this questionnaire; the store holds files of others too."""
    mine = select(SentTable.id).where(SentTable.questionnaire_id == questionnaire_id, SentTable.file_hash == file)
    return session.scalar(mine.limit(1)) is not None
