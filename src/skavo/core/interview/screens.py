"""What a screen is given: the shapes that the engine's views return and the front ends are typed by. Standard library only."""

from __future__ import annotations

from typing import Any, Literal, TypedDict


class FindingShown(TypedDict):
    """Something to mend: where, how strict, the message with its values, the paths of all answers concerned.

    `check` is the number of the part's check, -1 for a built-in one; `kept` is the reason for which it was kept.
    """

    code: str
    strength: Literal["must", "should"]
    path: str
    check: int
    rule: str
    message: str
    paths: list[str]
    kept: str


class Around(TypedDict):
    """A section, or a roster's row (`row` of `rows`, from 1), around a place; a section has neither."""

    kind: str
    title: str
    row: int | None
    rows: int | None


class Piece(TypedDict):
    """A stretch of a text; `filled` ones come from answers."""

    text: str
    filled: bool


class CodeShown(TypedDict):
    code: str
    label: str
    exclusive: bool
    media: list[str]


class CodesFound(TypedDict):
    """What typing found in a long list; `more` were left out."""

    codes: list[CodeShown]
    more: int


class UnitShown(TypedDict):
    unit: str
    label: str


class ReadBack(TypedDict):
    """The answer to be confirmed: in words, and in JSON form for the answer that confirms it."""

    path: str
    shown: str
    value: Any


class Step(TypedDict):
    """The screen of one question, without its place on the way. `value` is the answer in JSON form (answers.py).

    `example` is a text that fits the `mask`. Of a long list `codes` holds what is chosen and the first ones, and
    `codes_left` says how many more there are: they are found by typing (code_search.py). Units are
    told as codes are, by their identities.
    """

    path: str
    kind: str
    variable: str
    around: list[Around]
    wording: list[Piece]
    read_aloud: bool
    media: list[str]
    instruction: str
    codes: list[CodeShown]
    codes_left: int
    units: list[UnitShown]
    reads_back: ReadBack | None
    value: Any
    special: str | None
    special_allowed: list[str]
    needed: bool
    mask: str
    example: str
    most: int | float | None
    removable_row: str | None
    findings: list[FindingShown]


class OverviewLine(TypedDict):
    path: str
    around: list[Around]
    kind: str
    variable: str
    wording: str
    answer: str
    state: Literal["answered", "special", "open"]
    broken: int


class ExerciseDifference(TypedDict):
    """A question that was entered otherwise than in the exercise: both answers in words, "" for none, None where it was
    not asked."""

    path: str
    around: list[Around]
    wording: str
    mine: str | None
    wanted: str | None


class Screen(Step):
    """A step with what stands before and behind it; `progress` is from 0 to 1 and never runs back.

    `before` is the question that was answered just before, None where there is none.
    """

    before: OverviewLine | None
    previous: str | None
    next: str | None
    progress: float


class SavedInterview(TypedDict):
    """All answers in JSON form by path, the kept-aside ones too; why soft checks were kept, by path and number."""

    answers: dict[str, Any]
    kept: dict[str, str]
    language: str


class Unsaved(TypedDict):
    """What has changed since it was asked for last: answers by path, None where one was taken back; all else whole."""

    answers: dict[str, Any]
    kept: dict[str, str]
    language: str


class PackedInterview(SavedInterview):
    """The answers asked, what was derived from them, and what was known of the units that they speak of."""

    derived: dict[str, Any]
    units: dict[str, dict[str, Any]]
