"""How an outside table joins the data set, as it is written down."""

from __future__ import annotations

from typing import Annotated, Any, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, model_validator

from skavo.core.combining.keys import Alike
from skavo.core.dataset.layout import INTERVIEWS
from skavo.core.documents import Format
from skavo.core.linking.compare import Comparison, How
from skavo.core.linking.link import Model, Weight
from skavo.core.questionnaire.variables import is_variable, suggest_lawful

Name = Annotated[str, Field(max_length=64)]
Heading = Annotated[str, Field(max_length=200)]
# log2 of nine to one: a pair is a match, or apart, nine times in ten.
NINE_IN_TEN = 3.17


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class KeyPair(_Part):
    """A variable that is a column of the table. `alike` is what is not told apart; `words` names the language in which a
    code's label is compared, and is empty where the code itself is."""

    ours: Name
    theirs: Heading
    alike: list[Alike] = Field(default=["case"], max_length=5)
    words: str = Field(default="", max_length=35)


class Compared(_Part):
    """A variable held against a column, to find rows whose keys do not agree."""

    ours: Name
    theirs: Heading
    how: How
    words: str = Field(default="", max_length=35)


class LearntWeight(_Part):
    """By level of a comparison, from *differs* upward: how often same pairs show it, how often others do, in bits."""

    same: list[float] = Field(max_length=10)
    others: list[float] = Field(max_length=10)
    bits: list[float] = Field(max_length=10)


class Learnt(_Part):
    """What the tables told of the worth of each comparison, in their order, when `pairs` pairs were looked at."""

    weights: list[LearntWeight] = Field(max_length=20)
    prior: float
    pairs: int


class Near(_Part):
    """How rows without a partner by key find one by likeness. A pair from `match` bits on is a match, up to `apart` bits
    it is none, and between them somebody decides. `blocks` are sets of `ours`, of which one has to agree.

    `once` says that no row of the table belongs to two of ours.
    """

    compare: list[Compared] = Field(min_length=1, max_length=20)
    blocks: list[list[Name]] = Field(min_length=1, max_length=10)
    match: float = NINE_IN_TEN
    apart: float = -NINE_IN_TEN
    once: bool = False
    learnt: Learnt | None = None

    @model_validator(mode="after")
    def _fits(self) -> Self:
        if self.apart > self.match:
            raise ValueError("A pair cannot be apart from more on than it is a match.")
        if len({one.ours for one in self.compare}) < len(self.compare):
            raise ValueError("Each variable is compared once.")
        if self.learnt is not None and len(self.learnt.weights) != len(self.compare):
            raise ValueError("What was learnt is about other comparisons. Learn again.")
        return self

    @property
    def comparisons(self) -> list[Comparison]:
        return [Comparison(one.ours, one.theirs, one.how) for one in self.compare]

    def model(self) -> Model | None:
        """What was learnt, to weigh pairs with; None where nothing was yet."""
        if self.learnt is None:
            return None
        told = [
            Weight(comparison, worth.same, worth.others, worth.bits)
            for comparison, worth in zip(self.comparisons, self.learnt.weights, strict=True)
        ]
        return Model(told, self.learnt.prior, self.learnt.pairs)


def learnt_of(model: Model) -> Learnt:
    """A model as it is written down."""
    told = [LearntWeight(same=w.same, others=w.others, bits=w.bits) for w in model.weights]
    return Learnt(weights=told, prior=model.prior, pairs=model.pairs)


Keep = Literal["all", "matched", "without"]
Several = Literal["refuse", "leave", "first", "rows"]


class Join(_Part):
    """`into` is the table that the columns `take` are taken over to, as the variables that they are `called`; without keys
    rows are found by likeness alone.

    `keep` says which of our rows stay: all, only those with a row, only those without. `several` says what becomes of ours
    that find several rows: the join is refused, they stay without one, they take the first, or the rows become a table of
    their own below `into`.
    """

    into: Name = INTERVIEWS
    keys: list[KeyPair] = Field(default=[], max_length=8)
    take: list[Heading] = Field(min_length=1, max_length=200)
    called: dict[Heading, Name] = Field(default={}, max_length=200)
    keep: Keep = "all"
    several: Several = "refuse"
    near: Near | None = None

    @model_validator(mode="after")
    def _finds(self) -> Self:
        if not self.keys and self.near is None:
            raise ValueError("Say which variable is which column.")
        if self.several == "rows" and self.near is not None:
            raise ValueError("Rows that become a table of their own are found by key only.")
        if wrong := [name for name in self.called.values() if not is_variable(name)]:
            raise ValueError(f"“{wrong[0]}” is no name of a variable. Try {suggest_lawful(wrong[0])}.")
        if len(set(self.called.values())) < len(self.called):
            raise ValueError("Two columns have the same name. Give each its own.")
        return self


def _first_to_second(old: dict[str, Any]) -> dict[str, Any]:
    """One key, compared without regard to case; what stood twice was left."""
    keys = [{"ours": old["variable"], "theirs": old["key"], "alike": ["case"]}]
    return {"keys": keys, "take": old["take"], "several": "leave"}


def _second_to_third(old: dict[str, Any]) -> dict[str, Any]:
    """Columns were called after their table, and nobody could say otherwise."""
    return {**old, "called": {}}


JOIN = Format("join", (_first_to_second, _second_to_third), unmarked=1)


def read_join(body: dict[str, Any]) -> Join:
    """A join as it is kept, of whichever version."""
    return Join.model_validate(JOIN.read_body(body))


def write_join(join: Join) -> dict[str, Any]:
    """A join as it is kept."""
    return JOIN.write(join.model_dump(mode="json"))


def variables_named(join: Join) -> frozenset[str]:
    """The variables of ours that a join finds rows by."""
    near = join.near.compare if join.near is not None else []
    return frozenset([*(pair.ours for pair in join.keys), *(one.ours for one in near)])


def renamed_join(join: Join, names: dict[str, str]) -> Join:
    """The same join where variables and rosters are called otherwise now."""
    found = join.model_copy(deep=True)
    found.into = names.get(found.into, found.into)
    for pair in found.keys:
        pair.ours = names.get(pair.ours, pair.ours)
    if found.near is not None:
        for one in found.near.compare:
            one.ours = names.get(one.ours, one.ours)
        found.near.blocks = [[names.get(name, name) for name in block] for block in found.near.blocks]
    return found
