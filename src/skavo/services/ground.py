"""Plan, map: what lies where, told apart by what is known of it: interviews, visits, units."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Any, Literal, TypeVar

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, ValidationError
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.dataset.layout import INTERVIEWS, KEY, Column, TableLayout
from skavo.core.errors import DataError
from skavo.core.permissions import Permission
from skavo.core.register.narrowing import Narrowing
from skavo.services.branch_reach import reached
from skavo.services.branches import hidden_fields, label_of
from skavo.services.desk import Desk
from skavo.services.distances import Distances
from skavo.services.found import the_asked, the_study, the_visit_list
from skavo.services.ground_figures import classed, figures_from_below, in_classes, place_among
from skavo.services.ledger import LedgerQuery, ledger_conditions
from skavo.services.refusals import Refused, not_found
from skavo.services.registers import fields_of
from skavo.services.visits import POINT_COLUMNS, Seen, Which, conditions_of, names_of
from skavo.store.models import Interview, Visit, VisitAttempt
from skavo.store.registers import KindHere, Register
from skavo.store.visits import how_it_ends

Of = Literal["interviews", "visits", "ways", "units"]
_NEEDS: dict[Of, Permission] = {
    "interviews": "interview.read",
    "visits": "field.read",
    "ways": "field.read",
    "units": "register.read",
}
MOST_POINTS = 20_000
# So many groups can be told apart; the smallest go together.
_MOST_GROUPS = 11
NOTHING, OTHERS = "", "…"


class GroundQuery(BaseModel):
    """`named` is the questionnaire, the list of visits (whose attempts are the ways) or the kind of unit; `by` what tells
    them apart, one of the choices that are told. Ways are those of a `day` by the study's clock, the last one for "".
    `narrow` leaves some of them out: a LedgerQuery of interviews, a Which of visits and ways, a Narrowing of units, as JSON.
    """

    model_config = ConfigDict(extra="forbid")
    of: Of
    named: int = Field(ge=1, le=2**62)
    by: str = Field(default="", max_length=200)
    day: str = Field(default="", pattern=r"^(\d{4}-\d{2}-\d{2})?$")
    narrow: str = Field(default="", max_length=20_000)


class GroundGroup(BaseModel):
    """`value` is a code, a name, a class; "" where nothing is known, “…” for all that are in no group of their own.
    `label` is "" where the page has its own words."""

    value: str
    label: str
    points: int


class GroundChoice(BaseModel):
    """Something that points can be told apart by; `label` is "" where the page has its own words."""

    value: str
    label: str


class GroundOut(BaseModel):
    """Points column by column; `group_of` says which of the `groups` each is in, the largest first, or in their own order
    where it is `graded`. `without` have no place that may be seen, `left` are more than are told. Of ways, the points of a
    group are one after the other; `days` are those that there are, `day` the one that is told."""

    ids: list[int]
    latitudes: list[float]
    longitudes: list[float]
    labels: list[str]
    group_of: list[int]
    groups: list[GroundGroup]
    by: str
    choices: list[GroundChoice]
    graded: bool
    without: int
    left: int
    day: str
    days: list[str]


@dataclass(frozen=True)
class _Spot:
    id: int
    label: str
    place: tuple[float, float] | None
    value: str


@dataclass(frozen=True)
class _Layer:
    """What is drawn, and what its values are called."""

    spots: list[_Spot]
    by: str
    choices: list[GroundChoice]
    called: Callable[[str], str] = str
    graded: bool = False
    day: str = ""
    days: tuple[str, ...] = ()


def show_ground(desk: Desk, study_id: int, query: GroundQuery) -> GroundOut:
    """Where interviews, visits or units lie, in groups."""
    if not desk.may(_NEEDS[query.of]):
        raise Refused("not_allowed", "You may not see these. Ask the data manager.")
    with desk.store.reading() as session:
        the_study(session, study_id)
        layer = _LAYERS[query.of](desk, session, study_id, query)
    placed = [spot for spot in layer.spots if spot.place is not None]
    shown = placed[:MOST_POINTS]
    counts = Counter(spot.value for spot in shown)
    size = (lambda one: 0) if layer.graded else (lambda one: -one[1])
    values = [value for value, _ in sorted(counts.items(), key=lambda one: (one[0] == NOTHING, size(one), one[0]))]
    own = values if len(values) <= _MOST_GROUPS + 1 else [*(v for v in values if v != NOTHING)][:_MOST_GROUPS]
    groups = [*own, *([OTHERS] if len(own) < len(values) else [])]
    at = {value: number for number, value in enumerate(groups)}
    group_of = [at.get(spot.value, len(own)) for spot in shown]
    sizes = Counter(group_of)
    return GroundOut(
        ids=[spot.id for spot in shown], labels=[spot.label for spot in shown],
        latitudes=[spot.place[0] for spot in shown if spot.place], group_of=group_of,
        longitudes=[spot.place[1] for spot in shown if spot.place], by=layer.by, choices=layer.choices,
        groups=[
            GroundGroup(value=v, label="" if v in (NOTHING, OTHERS) else layer.called(v), points=sizes[n])
            for n, v in enumerate(groups)
        ],
        without=len(layer.spots) - len(placed), left=len(placed) - len(shown), graded=layer.graded, day=layer.day,
        days=[*layer.days],
    )  # fmt: skip


def _chosen(query: GroundQuery, choices: list[GroundChoice]) -> str:
    """What they are told apart by; the first choice where what was asked for is none of them."""
    return query.by if any(choice.value == query.by for choice in choices) else choices[0].value


def _own(*values: str) -> list[GroundChoice]:
    return [GroundChoice(value=value, label="") for value in values]


Narrows = TypeVar("Narrows", bound=BaseModel)


def _narrowed(query: GroundQuery, by: type[Narrows]) -> Narrows:
    """What a query leaves out, as it is said of what is drawn; raise DataError where it cannot be read."""
    try:
        return by.model_validate_json(query.narrow or "{}")
    except ValidationError:
        raise DataError("wrong_narrowing", "What is left out cannot be read any more. Choose it again.") from None


# --- visits


def _visits(desk: Desk, session: Session, study_id: int, query: GroundQuery) -> _Layer:
    found = the_visit_list(session, query.named)
    if found.study_id != study_id:
        raise not_found("list of visits")
    seen, names = Seen(desk, session, study_id), names_of(session, study_id)
    classes = {code: one.counts_as for code, one in how_it_ends(session, study_id).outcomes.items()}
    choices = _own("outcome", "standing", "person", "area")
    by = _chosen(query, choices)
    says: dict[str, Callable[[Any], str]] = {
        "outcome": lambda visit: classes.get(visit.outcome, NOTHING),
        "standing": lambda visit: visit.standing,
        "person": lambda visit: names.get(visit.person_id or 0, NOTHING),
        "area": lambda visit: visit.area,
    }
    conditions = conditions_of(desk, session, found, _narrowed(query, Which))
    every = session.execute(select(*POINT_COLUMNS).where(*conditions).order_by(Visit.id)).all()
    return _Layer([_Spot(v.id, seen.label(v), seen.place(v), says[by](v)) for v in every], by, choices)


# --- the ways of a day


def _ways(desk: Desk, session: Session, study_id: int, query: GroundQuery) -> _Layer:
    """Where people were on a day, one attempt after the other."""
    found = the_visit_list(session, query.named)
    if found.study_id != study_id:
        raise not_found("list of visits")
    ends = how_it_ends(session, study_id)
    seen = Seen(desk, session, study_id)
    wanted = select(VisitAttempt, Visit).join(Visit, Visit.id == VisitAttempt.visit_id)
    wanted = wanted.where(*conditions_of(desk, session, found, _narrowed(query, Which)))
    made = [
        (attempt, visit, attempt.at.astimezone(ends.zone))
        for attempt, visit in session.execute(wanted.order_by(VisitAttempt.at)).tuples()
        if attempt.taken_back is None and attempt.latitude is not None and seen.may_be_exact(visit)
    ]
    days = sorted({str(at.date()) for _, _, at in made})
    day = query.day if query.day in days else days[-1] if days else ""
    spots = [
        _Spot(visit.id, f"{at:%H:%M} {seen.label(visit)}", (attempt.latitude, attempt.longitude), attempt.by)
        for attempt, visit, at in made
        if str(at.date()) == day and attempt.latitude is not None and attempt.longitude is not None
    ]
    return _Layer(spots, "person", _own("person"), day=day, days=tuple(days))


# --- units


def _units(desk: Desk, session: Session, study_id: int, query: GroundQuery) -> _Layer:
    register = desk.sets.registers.of(session, study_id, held=True)
    kind = register.kinds.get(query.named)
    if kind is None:
        raise not_found("kind of unit")
    hidden = hidden_fields(desk, register)
    coded = [field for field in fields_of(desk, kind) if field.type in ("code", "yes/no") and not field.hidden]
    figures = {figure.value: figure for figure in figures_from_below(register, kind, hidden)}
    choices = [*(GroundChoice(value=f.part_id, label=f.wording) for f in coded), *_own("faults", "above")]
    choices += [GroundChoice(value=figure.value, label=figure.label) for figure in figures.values()]
    by = _chosen(query, choices)
    words = {code.value: code.label for field in coded if field.part_id == by for code in field.codes}
    within = reached(desk, session, study_id, register)
    narrowing = _narrowed(query, Narrowing).model_copy(update={"kind": kind.id})
    mask = register.meant(narrowing, hidden)
    mine = np.flatnonzero(mask if within is None else mask & within).tolist()
    figure = figures.get(by)
    if figure is not None:
        classes = classed(register, figure, mine)
        places = [place_among(register, at, hidden) for at in mine]
        spots = [
            _Spot(register.units[at].id, label_of(kind, register.units[at], hidden), place, value)
            for at, place, value in zip(mine, places, classes.values, strict=True)
        ]
        return _Layer(spots, by, choices, lambda value: classes.labels.get(value, value), graded=True)
    spots = list(_unit_spots(register, kind, by, hidden, mine))
    return _Layer(spots, by, choices, lambda value: words.get(value, value))


def _unit_spots(
    register: Register, kind: KindHere, by: str, hidden: frozenset[str], places: list[int]
) -> Iterator[_Spot]:
    held = register.held or {}
    for at in places:
        unit = register.units[at]
        over = int(register.tree.above[at])
        if by == "faults":
            value = "faulty" if unit.faults else "whole"
        elif by == "above":
            above = register.units[over] if over >= 0 else None
            value = NOTHING if above is None else label_of(register.kinds[above.kind_id], above, hidden)
        else:
            value = _text(held[unit.id].get(by))
        yield _Spot(unit.id, label_of(kind, unit, hidden), place_among(register, at, hidden), value)


def _text(value: Any) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    return NOTHING if value is None or isinstance(value, dict) else str(value)


def _said(texts: dict[str, Any], otherwise: str) -> str:
    """A text in the first language that it is written in."""
    found = next(iter(texts.values()), None) if texts else None
    return found if isinstance(found, str) and found else otherwise


# --- interviews


def _interviews(desk: Desk, session: Session, study_id: int, query: GroundQuery) -> _Layer:
    the_asked(session, study_id, query.named)
    table = desk.data(session, query.named).data[INTERVIEWS]
    layout: TableLayout = table.layout
    coded = [column for column in layout.columns if column.measure in ("code", "yes/no") and not column.piece]
    numbers = [column for column in layout.columns if column.measure == "number" and not column.piece]
    choices = [
        *_own("state", "enumerator", "distance"),
        *(GroundChoice(value=f"v/{c.variable}", label=_said(c.label, c.variable)) for c in (*coded, *numbers)),
    ]
    by = _chosen(query, choices)
    variable = by.removeprefix("v/") if by.startswith("v/") else None
    rows = {row[0]: row[-1] for row in table.frame.select([KEY, *([variable] if variable else [])]).iter_rows()}
    distances = Distances(desk, session, study_id, query.named)
    narrow = _narrowed(query, LedgerQuery).model_copy(update={"questionnaire": query.named, "practice": False})
    conditions = ledger_conditions(desk, session, study_id, narrow)
    columns = (Interview.id, Interview.number, Interview.uuid, Interview.state, Interview.enumerator, Interview.unit_id)
    spots = []
    for identity, number, uuid, state, enumerator, unit_id in session.execute(
        select(*columns).where(*conditions)
    ).tuples():
        if f"{number:04d}" not in rows:
            continue
        place = distances.taken_at(number, uuid, unit_id)
        says = {"state": state, "enumerator": enumerator, "distance": distances.band(unit_id, place)}
        value = says[by] if variable is None else _text(rows[f"{number:04d}"])
        spots.append(_Spot(identity, f"{number:04d} · {enumerator}", place, value))
    column = None if variable is None else layout.column(variable)
    if column is not None and column in numbers:
        # What cannot be read as a number was left out of the data set already.
        classes = in_classes(np.array([float(spot.value or "nan") for spot in spots]))
        spots = [replace(spot, value=value) for spot, value in zip(spots, classes.values, strict=True)]
        return _Layer(spots, by, choices, lambda value: classes.labels.get(value, value), graded=True)
    return _Layer(spots, by, choices, _code_words(column))


def _code_words(column: Column | None) -> Callable[[str], str]:
    codes = {} if column is None else {code: _said(label, code) for code, label in column.codes.items()}
    return lambda value: codes.get(value, value)


_LAYERS: dict[Of, Callable[[Desk, Session, int, GroundQuery], _Layer]] = {
    "visits": _visits, "ways": _ways, "units": _units, "interviews": _interviews,
}  # fmt: skip
