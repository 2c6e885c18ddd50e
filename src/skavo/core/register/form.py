"""The fields of a kind of unit, as its released questionnaire describes them, and what follows from a unit's answers.

A unit's answers are kept by the lasting identities of the fields, so that a field may be renamed. Everything else is the
engine's: derived values, what is asked when, checks, words.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from skavo.core.interview.answers import write_answer
from skavo.core.interview.engine import Engine
from skavo.core.interview.messages import word
from skavo.core.interview.release import PartSpec, Release
from skavo.core.interview.shown import show_value
from skavo.core.interview.view import describe_finding, render
from skavo.core.rules.values import Area, Path, Point

Answers = dict[str, Any]
_PLACES = ("point", "path", "area")


@dataclass(frozen=True)
class Fault:
    """What is wrong (must) or doubtful (should) about a field."""

    part_id: str
    strength: str
    text: str


@dataclass(frozen=True)
class Reckoned:
    """What follows from a unit's answers.

    `derived` are values in JSON form, by field; `label` is what the unit is called, "" where its field is empty. `filled`
    of `asked` fields hold something. `point` is (latitude, longitude): where it is, or the middle of its corners.
    """

    derived: Answers
    faults: list[Fault]
    label: str
    filled: int
    asked: int
    point: tuple[float, float] | None


@dataclass(frozen=True)
class Line:
    """A field as a reader sees it. `shown` is "" where it is empty; `value` is its JSON form, `state` answered, special or
    open. `asked` says whether it applies to this unit at all."""

    part_id: str
    kind: str
    variable: str
    wording: str
    shown: str
    value: Any
    state: str
    derived: bool
    asked: bool


@dataclass
class UnitForm:
    """The fields of a kind by its release; units hold nothing besides the key where there is none yet.

    What lies in a roster is left out: what repeats is a kind of its own.
    """

    release: Release | None
    label: str = ""
    fields: list[PartSpec] = field(init=False)
    by_id: dict[str, PartSpec] = field(init=False)

    def __post_init__(self) -> None:
        parts = self.release.parts if self.release is not None else []
        self.fields = [part for part in parts if not part.rosters and (part.kind.takes_answer or part.kind.derives)]
        self.by_id = {part.raw["id"]: part for part in self.fields}
        self._label = self.by_id.get(self.label)
        self._places = [part for part in self.fields if part.raw["type"] in _PLACES]

    @property
    def asks_for_the_day(self) -> bool:
        """Whether what follows from answers may be another on another day."""
        return self.release is not None and _speaks_of(self.release.raw["parts"], ("today", "now"))

    def engine(self, answers: Answers, at: datetime, language: str | None = None) -> Engine:
        """The engine over a unit's answers; the form has to have a release."""
        assert self.release is not None
        given = {
            self.by_id[key].variable: value
            for key, value in answers.items()
            if key in self.by_id and self.by_id[key].kind.takes_answer
        }
        return Engine(self.release, {"now": at}, given, language=language)

    def reckon(self, answers: Answers, at: datetime) -> Reckoned:
        """What follows from a unit's answers at a moment (with an offset: rules may ask for today)."""
        if self.release is None:
            return Reckoned({}, [], "", 0, 0, None)
        engine = self.engine(answers, at)
        derived = {
            part.raw["id"]: write_answer(value)
            for part in self.fields
            if part.kind.derives and (value := engine.values[part.index].get(())) is not None
        }
        open_fields = [part for part in self.fields if part.kind.takes_answer and engine.asked[part.index].get(())]
        filled = sum(1 for part in open_fields if _holds(engine, part))
        label = "" if self._label is None else _words_of(engine, self._label)
        return Reckoned(derived, self._faults(engine), label, filled, len(open_fields), self._point(engine))

    def lines(self, answers: Answers, at: datetime, language: str | None = None) -> list[Line]:
        """Every field in the order of its questionnaire, in words."""
        if self.release is None:
            return []
        engine = self.engine(answers, at, language)
        return [self._line(engine, part) for part in self.fields]

    def words(self, part: PartSpec, value: Any, at: datetime, language: str | None = None) -> str:
        """One answer in words; "" for none."""
        return _words_of(self.engine({part.raw["id"]: value}, at, language), part)

    def _line(self, engine: Engine, part: PartSpec) -> Line:
        value, special = engine.values[part.index].get(()), engine.special[part.index].get(())
        return Line(
            part_id=part.raw["id"], kind=part.kind.name, variable=part.variable,
            wording=render(engine, part.raw["wording"], ()) or part.variable, shown=_words_of(engine, part),
            value={"special": special} if special else write_answer(value),
            state="special" if special else "open" if value is None else "answered",
            derived=part.kind.derives, asked=engine.asked[part.index].get((), False),
        )  # fmt: skip

    def _faults(self, engine: Engine) -> list[Fault]:
        """A field that is empty is no fault: registers fill up as a survey goes on."""
        return [
            Fault(engine.release.parts[index].raw["id"], told["strength"], told["message"])
            for (index, row), broken in sorted(engine.broken.items(), key=lambda entry: entry[0][0])
            for one in broken
            if one.code != "needed"
            for told in [describe_finding(engine, (index, row), one)]
        ]

    def _point(self, engine: Engine) -> tuple[float, float] | None:
        for part in self._places:
            value = engine.values[part.index].get(())
            if isinstance(value, Point):
                return value.latitude, value.longitude
            if isinstance(value, Path | Area):
                return _middle(value.points)
        return None


def _holds(engine: Engine, part: PartSpec) -> bool:
    return () in engine.values[part.index] or () in engine.special[part.index]


def _words_of(engine: Engine, part: PartSpec) -> str:
    special = engine.special[part.index].get(())
    if special is not None:
        return word(special, engine.language, engine.own_words)
    value = engine.values[part.index].get(())
    return "" if value is None else show_value(engine, part.raw, value)


def _middle(points: tuple[Point, ...]) -> tuple[float, float]:
    """The mean of the corners, which is near enough to find a unit by; the date line may lie between them."""
    first = points[0].longitude
    east = sum((point.longitude - first + 540) % 360 - 180 for point in points) / len(points)
    return sum(point.latitude for point in points) / len(points), (first + east + 540) % 360 - 180


def _speaks_of(piece: Any, names: tuple[str, ...]) -> bool:
    """Whether any rule in a release, as its trees are written, asks for something from outside."""
    if isinstance(piece, dict):
        return any(_speaks_of(inner, names) for inner in piece.values())
    if not isinstance(piece, list):
        return False
    if len(piece) == 2 and piece[0] == "outside" and piece[1] in names:
        return True
    return any(_speaks_of(inner, names) for inner in piece)
