"""Units from the rows of a table: each row judged before anything is kept.

A row is new, changed, the same, doubtful (it comes in, unless told not to) or wrong (it never does).
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Literal

from skavo.core.maps.rings import is_same_area
from skavo.core.register.cells import WrongCell, columns_of, comes_in, plain, read_cells
from skavo.core.register.changes import Answers, Changes, changes_between
from skavo.core.register.form import Reckoned, UnitForm
from skavo.core.register.settings import KindSettings
from skavo.core.rules.automaton import text_fits
from skavo.core.rules.geodesy import distance_m
from skavo.core.rules.values import Point

# What a column of the table may be besides a field.
KEY, ABOVE, KIND = "#key", "#above", "#kind"
MOST_KEY = 64
_KEY_WORDS = {"key", "id", "code", "number"}
_ABOVE_WORDS = {"above", "parent", "under", "belongsto"}
# A geometry or a latitude goes into the first column of a place, a longitude into its second.
_GEOMETRY, _PLACES = "geometry", ("point", "path", "area")
_PLACE_WORDS = ({_GEOMETRY, "latitude", "lat"}, {"longitude", "lon", "lng", "long"})
_KIND_WORDS = {"kind", "type", "kindofunit"}
# Farther from what it lies under, a place is probably a slip of the pen.
FAR_METRES = 50_000

Verdict = Literal["new", "changed", "same", "doubtful", "wrong"]


@dataclass(frozen=True, kw_only=True)
class Kind:
    """A kind of unit as a table is read with; `name` is what it is called in a column of kinds, `title` everywhere else."""

    id: int
    name: str
    title: str
    settings: KindSettings
    form: UnitForm

    @property
    def columns(self) -> dict[str, str]:
        """The columns of its fields that a table can bring, with the words by which they may be headed."""
        found = {}
        for part in self.form.fields:
            if comes_in(part):
                for column in columns_of(part):
                    found[column] = part.raw["id"]
        return found


@dataclass(frozen=True)
class Known:
    """A unit that is in the register: its answers, and the unit above it."""

    unit_id: int
    answers: Answers
    above: int | None
    point: tuple[float, float] | None = None


@dataclass(frozen=True)
class Doubt:
    """What is wrong or doubtful about a row; `column` is as the file heads it, "" where it is about the row."""

    column: str
    text: str


@dataclass(eq=False)
class Judged:
    """A row of the table, numbered as in the file (the heading is row 1), and what is to become of it.

    `above` is the unit above it: the identity of one in the register, or the number of another row; None for none, and
    where the file says nothing about an old unit its place stays.
    """

    row: int
    kind_id: int
    key: str
    verdict: Verdict
    doubts: list[Doubt]
    answers: Answers = field(default_factory=dict)
    changes: Changes = field(default_factory=dict)
    unit_id: int | None = None
    above_unit: int | None = None
    above_row: int | None = None
    moves: bool = False
    reckoned: Reckoned | None = None

    @property
    def label(self) -> str:
        return self.reckoned.label if self.reckoned is not None else ""


Registered = Mapping[tuple[int, str], Known]


def guess_columns(headings: Sequence[str], kinds: Sequence[Kind]) -> dict[str, str]:
    """What each column of a table is, by its heading: a field by its variable or its wording, key, above or kind."""
    words: dict[str, str] = {}
    for kind in kinds:
        for part in kind.form.fields:
            if comes_in(part):
                texts = ["".join(s for s in text if isinstance(s, str)) for text in part.raw["wording"].values()]
                for name in (*texts, part.variable):
                    words.setdefault(plain(name), columns_of(part)[0])
                words.update({plain(column): column for column in columns_of(part)})
        words.setdefault(plain(kind.settings.key_named or "key"), KEY)
        if any(kind.id in other.settings.under for other in kinds):
            words.update({plain(name): ABOVE for name in (kind.name, kind.title)})
    for known, what in ((_KIND_WORDS, KIND), (_ABOVE_WORDS, ABOVE), (_KEY_WORDS, KEY)):
        for word in known:
            words.setdefault(word, what)
    taken: set[str] = set()
    guessed = {}
    for heading in headings:
        word = plain(heading)
        what = words.get(word, "")
        for at, known in enumerate(_PLACE_WORDS):
            if not what and word in known:
                what = _first_place(kinds, _PLACES if word == _GEOMETRY else ("point",), at)
        guessed[heading] = "" if what in taken else what
        taken.add(what)
    return guessed


def _first_place(kinds: Sequence[Kind], types: Sequence[str], at: int) -> str:
    """A column of the first field of the kinds that holds a place of these types; "" where there is none."""
    places = (part for kind in kinds for part in kind.form.fields if part.raw["type"] in types and comes_in(part))
    return next((columns_of(part)[at] for part in places), "")


class Judge:
    """Judges the rows of a table against the register, one after the other.

    `columns` says what each column is; without a column of kinds all rows are of the only kind. An empty cell changes
    nothing, unless `empties` is set.
    """

    def __init__(
        self, kinds: Sequence[Kind], columns: Mapping[str, str], registered: Registered, *, at: datetime,
        empties: bool = False,
    ) -> None:  # fmt: skip
        self.kinds = {kind.id: kind for kind in kinds}
        self.registered, self.at, self.empties = registered, at, empties
        self._headed: dict[str, str] = {what: heading for heading, what in columns.items() if what}
        self._by_name = {plain(name): kind for kind in kinds for name in (kind.name, kind.title, str(kind.id))}
        self._rows: dict[tuple[int, str], Judged] = {}

    def judge(
        self, rows: Sequence[tuple[int, Mapping[str, str]]], progress: Callable[[int], None] = lambda _: None
    ) -> list[Judged]:
        """Every row, in the order of the table; `progress` is told how many have been judged, now and then."""
        judged = []
        for at, (number, cells) in enumerate(rows):
            judged.append(self._judge(number, {what: cells.get(h, "").strip() for what, h in self._headed.items()}))
            if at % 1000 == 0:
                progress(at)
        for one, (_, cells) in zip(judged, rows, strict=True):
            if one.kind_id:
                self._hang(one, cells.get(self._headed.get(ABOVE, ""), "").strip())
        _fall_with_what_is_above(judged, self.registered)
        return judged

    def _judge(self, number: int, cells: dict[str, str]) -> Judged:
        kind = self._kind_of(cells)
        if kind is None:
            found = cells.get(KIND, "")
            known = ", ".join(one.title for one in self.kinds.values())
            told = f"“{found[:60]}” is no kind of unit of this register ({known})."
            return Judged(number, 0, cells.get(KEY, ""), "wrong", [self._doubt(KIND, told)])
        key = cells.get(KEY, "")
        one = Judged(number, kind.id, key, "new", list(self._key_doubts(kind, key)))
        known_unit = self.registered.get((kind.id, key))
        before = known_unit.answers if known_unit is not None else {}
        brought = self._answers(kind, cells, one.doubts)
        one.answers = {**before, **{p: v for p, v in brought.items() if not is_same_area(before.get(p), v)}}
        one.answers = {field_id: value for field_id, value in one.answers.items() if value is not None}
        if one.doubts:
            one.verdict = "wrong"
        else:
            same = self._rows.get((kind.id, key))
            if same is not None:
                one.verdict = "wrong"
                one.doubts.append(self._doubt(KEY, f"“{key}” stands in row {same.row} already. A key names one unit."))
            else:
                self._rows[kind.id, key] = one
        one.reckoned = kind.form.reckon(one.answers, self.at)
        one.changes = changes_between(before, one.answers)
        if one.verdict == "wrong":
            return one
        if known_unit is not None:
            one.unit_id, one.above_unit = known_unit.unit_id, known_unit.above
            one.verdict = "changed" if one.changes else "same"
        if one.changes or known_unit is None:
            faults = [self._doubt(self._column_of(kind, fault.part_id), fault.text) for fault in one.reckoned.faults]
            if one.reckoned.point is not None and max(map(abs, one.reckoned.point)) < 1e-4:
                faults.append(self._doubt("", "Its place is 0°, 0°, out in the sea: probably none was taken."))
            one.doubts += faults
        return one

    def _kind_of(self, cells: dict[str, str]) -> Kind | None:
        if KIND in self._headed:
            return self._by_name.get(plain(cells.get(KIND, "")))
        return next(iter(self.kinds.values())) if len(self.kinds) == 1 else None

    def _key_doubts(self, kind: Kind, key: str) -> Iterator[Doubt]:
        if KEY not in self._headed:
            yield Doubt("", "No column is the key. Say which one names the units.")
        elif not key:
            yield self._doubt(KEY, "The key is empty. Give each unit one, or take the row out.")
        elif len(key) > MOST_KEY:
            yield self._doubt(KEY, f"The key has {len(key)} characters; {MOST_KEY} is the most.")
        elif kind.settings.key_mask and not text_fits("mask", kind.settings.key_mask, key):
            yield self._doubt(KEY, f"“{key}” does not look like {kind.settings.key_mask}.")

    def _answers(self, kind: Kind, cells: dict[str, str], doubts: list[Doubt]) -> Answers:
        found: Answers = {}
        release = kind.form.release
        for part in kind.form.fields:
            columns = [column for column in columns_of(part) if column in self._headed]
            if release is None or not columns or not comes_in(part):
                continue
            try:
                value = read_cells(release, part, cells)
            except WrongCell as error:
                doubts.append(self._doubt(columns[0], f"{error}."))
                continue
            if value is not None or self.empties:
                found[part.raw["id"]] = value
        return found

    def _hang(self, one: Judged, above: str) -> None:
        """Find what a row lies under: by key among the kinds that it may hang under, in the file or the register."""
        kind = self.kinds[one.kind_id]
        if not above:
            if one.unit_id is None and not kind.settings.stands_alone and one.verdict != "wrong":
                self._refuse(one, ABOVE, f"A unit of the kind {kind.title} lies under another one. Name its key.")
            self._finish(one, None)
            return
        rows = [self._rows[k, above] for k in kind.settings.under if (k, above) in self._rows]
        units = [self.registered[k, above] for k in kind.settings.under if (k, above) in self.registered]
        found = {row.unit_id or -row.row for row in rows} | {unit.unit_id for unit in units}
        if not found:
            self._refuse(
                one, ABOVE, f"No unit “{above[:60]}” that it may lie under is in the register or in this file."
            )
        elif len(found) > 1:
            self._refuse(
                one, ABOVE, f"Several units of other kinds are called “{above[:60]}”. Give them keys of their own."
            )
        elif rows and rows[0].unit_id is None:
            one.above_row, one.moves = rows[0].row, one.unit_id is not None
        else:
            (unit_id,) = found
            one.moves = one.unit_id is not None and one.above_unit != unit_id
            one.above_unit = unit_id
        point = rows[0].reckoned.point if rows and rows[0].reckoned else units[0].point if units else None
        self._finish(one, point)

    def _finish(self, one: Judged, point_above: tuple[float, float] | None) -> None:
        if one.verdict == "wrong":
            return
        here = one.reckoned.point if one.reckoned is not None else None
        if here is not None and point_above is not None and (one.changes or one.unit_id is None):
            apart = distance_m(Point(*here, None), Point(*point_above, None))
            if apart is not None and apart > FAR_METRES:
                one.doubts.append(self._doubt("", f"It lies {round(apart / 1000):,} km from what it is under."))
        if one.verdict == "same" and one.moves:
            one.verdict = "changed"
        if one.doubts and one.verdict != "same":
            one.verdict = "doubtful"

    def _refuse(self, one: Judged, what: str, text: str) -> None:
        one.verdict = "wrong"
        one.doubts.append(self._doubt(what, text))

    def _column_of(self, kind: Kind, part_id: str) -> str:
        part = kind.form.by_id.get(part_id)
        return "" if part is None else columns_of(part)[0]

    def _doubt(self, what: str, text: str) -> Doubt:
        return Doubt(self._headed.get(what, ""), text)


def _fall_with_what_is_above(judged: Sequence[Judged], registered: Registered) -> None:
    """A row whose row above does not come in does not come in either; nor does one that would lie under itself."""
    by_row = {one.row: one for one in judged}
    by_unit = {one.unit_id: one for one in judged if one.unit_id is not None and one.verdict != "wrong"}
    old_above = {unit.unit_id: unit.above for unit in registered.values()} if any(one.moves for one in judged) else {}

    def above(at: Judged | int) -> Judged | int | None:
        if isinstance(at, int):
            return by_unit.get(at) or old_above.get(at)
        if at.above_row is not None:
            return by_row[at.above_row]
        return by_unit.get(at.above_unit or 0) or (at.above_unit if old_above else None)

    for one in judged:
        chain: list[Judged | int] = []
        at: Judged | int | None = one
        while at is not None and at not in chain and not (isinstance(at, Judged) and at.verdict == "wrong"):
            chain.append(at)
            at = above(at)
        if at is None or not chain:
            continue
        told = "It would lie under itself." if at in chain else "What it lies under does not come in."
        for fallen in chain:
            if isinstance(fallen, Judged):
                fallen.verdict = "wrong"
                fallen.doubts.append(Doubt("", told))


def coming_in(judged: Sequence[Judged], *, doubtful: bool) -> list[Judged]:
    """The rows that come in, with the doubtful ones or without; where a row stays out, so does all that lies under it."""
    staying_out = {one.row for one in judged if one.verdict == "wrong" or (one.verdict == "doubtful" and not doubtful)}
    under: dict[int, list[int]] = {}
    for one in judged:
        if one.above_row is not None:
            under.setdefault(one.above_row, []).append(one.row)
    waiting = list(staying_out)
    while waiting:
        for row in under.get(waiting.pop(), []):
            if row not in staying_out:
                staying_out.add(row)
                waiting.append(row)
    return [one for one in judged if one.row not in staying_out and one.verdict != "same"]


def next_key(mask: str, taken: Callable[[str], bool], above: str, count: int) -> str:
    """A key that is free, proposed for a unit made by hand: that of the unit above and a number; "" where a mask decides."""
    if mask:
        return ""
    stem = re.sub(r"\s+", "", above)[: MOST_KEY - 8]
    number = count + 1
    while taken(key := f"{stem}-{number}" if stem else str(number)):
        number += 1
    return key
