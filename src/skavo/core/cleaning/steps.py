"""The steps that a cleaning plan is made of, as they are written down. What they do stands beside, by family."""

from __future__ import annotations

from typing import Annotated, Any, Literal, get_args

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

from skavo.core.documents import Format

Name = Annotated[str, Field(max_length=64)]
# What a step calls a variable that it makes; whether it can be called so is looked at when the step is done (work.named).
NewName = Annotated[str, Field(max_length=200)]
Rule = Annotated[str, Field(max_length=4000)]
Code = Annotated[str, Field(min_length=1, max_length=100)]
Text = Annotated[str, Field(max_length=500)]
Missing = Literal["unanswered", "not_asked", "dont_know", "refused"]


class _Step(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
    reason: str = Field(default="", max_length=1000)


class _OfVariable(_Step):
    variable: Name


class Correct(_OfVariable):
    """One value in one row. `row` leads from the interview to the roster row; a reason is needed."""

    kind: Literal["correct"] = "correct"
    interview: str
    row: list[str] = Field(default=[])
    value: Any = None
    missing: Missing | None = None


class SetValue(_OfVariable):
    """What the formula gives, in every row where the rule is a definite yes; everywhere without a rule."""

    kind: Literal["set"] = "set"
    formula: Rule
    rule: Rule = ""


class Recode(_OfVariable):
    """Codes of a single or multiple answer, or values of a text, replaced by others. `codes` are new ones, with labels."""

    kind: Literal["recode"] = "recode"
    mapping: dict[str, str]
    codes: dict[Code, Text] = Field(default={})


class MarkMissing(_OfVariable):
    """Values replaced by a kind of missing in every row where the rule is a definite yes."""

    kind: Literal["mark_missing"] = "mark_missing"
    rule: Rule
    missing: Missing = "unanswered"


class Tidy(_OfVariable):
    """Texts made alike: spaces at the ends, runs of spaces, look-alike letters, capital and small letters."""

    kind: Literal["tidy"] = "tidy"
    trim: bool = True
    blanks: bool = True
    alike: bool = False
    case: Literal["", "upper", "lower", "title", "sentence"] = ""


class Convert(_OfVariable):
    """An amount times what its unit holds: `factors` are rules, by the unit's code or text; other units stay as they are."""

    kind: Literal["convert"] = "convert"
    amount: Name
    unit: Name
    factors: dict[str, Rule]


class Shift(_OfVariable):
    """Dates and moments moved by so much where the rule is a definite yes: a clock that went wrong, a century mistaken."""

    kind: Literal["shift"] = "shift"
    by: int = Field(ge=-1_000_000, le=1_000_000)
    unit: Literal["minutes", "hours", "days", "months", "years"]
    rule: Rule = ""


class SwapDayMonth(_OfVariable):
    """Dates whose day and month stand in each other's place, where that gives a date and the rule is a definite yes."""

    kind: Literal["swap_day_month"] = "swap_day_month"
    rule: Rule = ""


class Dictionary(_OfVariable):
    """Texts taken into codes: `words` leads from a text, small letters and single spaces, to a code of `into`.

    It goes on for what arrives later; what it has not met is told. `replaces` is the code that stands for *other*: a text
    that leads to it stays as it is, and is met.
    """

    kind: Literal["dictionary"] = "dictionary"
    into: Name
    words: dict[Text, Code]
    codes: dict[Code, Text] = Field(default={})
    replaces: str = ""


class Derive(_Step):
    """A new variable: what a formula gives in every row of a table."""

    kind: Literal["derive"] = "derive"
    into: NewName
    table: Name = "interviews"
    formula: Rule
    label: Text = ""
    unit: Text = ""
    codes: dict[Code, Text] = Field(default={})


class Class(BaseModel):
    """Numbers from the end of the class before up to `below`, without it; None: all the rest."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
    code: Code
    label: Text = ""
    below: float | None = None


class Classes(_OfVariable):
    """A new variable: which of some classes a number falls into."""

    kind: Literal["classes"] = "classes"
    into: NewName
    classes: list[Class] = Field(min_length=1, max_length=200)
    label: Text = ""


class ReadAs(_OfVariable):
    """A new variable: what a text says, as a number, a date or yes and no; what cannot be read is unanswered, and told."""

    kind: Literal["read_as"] = "read_as"
    into: NewName
    measure: Literal["number", "date"]
    form: Literal["", "decimal_comma", "day_month_year", "month_day_year", "year_month_day"] = ""
    label: Text = ""


class Split(_OfVariable):
    """New variables: one yes or no for each code of a multiple answer, or the parts of a text between separators."""

    kind: Literal["split"] = "split"
    separator: str = Field(default="", max_length=10)
    into: list[NewName] = Field(default=[], max_length=50)


class Gather(_Step):
    """A new multiple answer: the code of each variable whose answer is yes."""

    kind: Literal["gather"] = "gather"
    into: NewName
    codes: dict[Code, Name]
    label: Text = ""


class JoinTexts(_Step):
    """A new text: the values of several variables behind one another; missing ones are passed over."""

    kind: Literal["join_texts"] = "join_texts"
    into: NewName
    variables: list[Name] = Field(min_length=1, max_length=50)
    separator: str = Field(default=" ", max_length=10)
    label: Text = ""


class Duplicates(_Step):
    """Interviews that are the same in `variables`: one is kept, the others left out and linked to it.

    `by_hand` leads from an interview that goes to the one that it is another copy of, `apart` are pairs that are none.
    """

    kind: Literal["duplicates"] = "duplicates"
    variables: list[Name] = Field(default=[], max_length=50)
    keep: Literal["first", "last", "fullest"] = "first"
    by_hand: dict[str, str] = Field(default={})
    apart: list[Annotated[list[str], Field(min_length=2, max_length=2)]] = Field(default=[])


class RowsOut(_Step):
    """Rows of a roster left out where the rule is a definite yes, or one by one; `but` are those brought back."""

    kind: Literal["rows_out"] = "rows_out"
    table: Name
    rule: Rule = ""
    rows: list[list[str]] = Field(default=[])
    but: list[list[str]] = Field(default=[])


class LeaveOut(_Step):
    """Whole interviews left out with all that lies under them: where the rule is a definite yes, or one by one."""

    kind: Literal["leave_out"] = "leave_out"
    rule: Rule = ""
    interviews: list[str] = Field(default=[])


class Impute(_OfVariable):
    """Missing values filled in: one value, the mean, median or commonest of the same group, or that of a donor.

    A donor is drawn at random from the rows of the same group that have a value (hot deck), by the seed and the names of
    the rows: the same donor again, as long as it is there. `missing` are the kinds that are filled. Each filled value is
    flagged in `<variable>_filled`, and with a donor the row it is from stands in `<variable>_donor`.
    """

    kind: Literal["impute"] = "impute"
    way: Literal["fixed", "mean", "median", "commonest", "donor"]
    value: Any = None
    by: list[Name] = Field(default=[], max_length=10)
    missing: list[Missing] = Field(default=["unanswered", "dont_know", "refused"], min_length=1)
    seed: int = Field(default=1, ge=0)


class Present(_OfVariable):
    """How a variable is handed over: its name, its label, its place before another one."""

    kind: Literal["present"] = "present"
    name: NewName = ""
    label: dict[str, Text] = Field(default={})
    before: Name = ""


class InOrder(_OfVariable):
    """A finding that somebody has looked at and found in order, for a reason; it does nothing.

    It stands for up to `count` rows: where more are found later, the finding shows again.
    """

    kind: Literal["in_order"] = "in_order"
    finding: Text
    count: int = Field(ge=0)


class Heading(_Step):
    """A line above the steps that follow it; it does nothing."""

    kind: Literal["heading"] = "heading"
    text: str = Field(min_length=1, max_length=200)


AnyStep = (
    Correct | SetValue | Recode | MarkMissing | Tidy | Convert | Shift | SwapDayMonth | Dictionary | Derive | Classes
    | ReadAs | Split | Gather | JoinTexts | Duplicates | RowsOut | LeaveOut | Impute | Present | InOrder | Heading
)  # fmt: skip
Step = Annotated[AnyStep, Field(discriminator="kind")]
STEP = Format("step", unmarked=1)
STEP_KINDS: tuple[str, ...] = tuple(step.model_fields["kind"].default for step in get_args(AnyStep))
_STEPS: TypeAdapter[AnyStep] = TypeAdapter(Step)


def read_step(document: dict[str, Any]) -> AnyStep:
    """A step as it was kept, of any version."""
    return _STEPS.validate_python(STEP.read_body(document))


def write_step(step: AnyStep) -> dict[str, Any]:
    """A step as it is kept."""
    return STEP.write(step.model_dump(mode="json"))
