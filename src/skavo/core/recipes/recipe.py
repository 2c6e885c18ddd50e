"""A recipe of a data set, as it is written down."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Any, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, model_validator

from skavo.core.cleaning.steps import Derive
from skavo.core.dataset.layout import INTERVIEWS
from skavo.core.documents import Format

Name = Annotated[str, Field(max_length=64)]
Rule = Annotated[str, Field(min_length=1, max_length=4000)]
# More columns than this would a turn not make: a slip of the finger costs no memory.
_MOST_BESIDE = 2_000


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


# Of an outside table all rows, or those of nobody.
Only = Literal["all", "nobody"]
Alone = tuple[int, Only]


class Source(_Part):
    """A questionnaire with its plan and its joins, or a round of it: some releases, or what was begun in some days.

    With `outside` it is a table from elsewhere, by its number, that was brought in beside the questionnaire, and each of its
    rows counts as an interview: all of them, or `only` those for which the join has found nobody of ours.

    `called` tells its rows from those of other sources. `names` are what variables and rosters are called in the data set,
    where that is something else; empty for what stays out. `codes` are what a variable's codes become, by the name that the
    variable has in the source. Days are those of the study's clock, both inclusive.
    """

    questionnaire: int
    outside: int | None = None
    only: Only = "all"
    called: str = Field(default="", max_length=200)
    releases: list[int] = Field(default=[], max_length=200)
    since: date | None = None
    until: date | None = None
    names: dict[Name, Name] = Field(default={}, max_length=5000)
    codes: dict[Name, dict[str, str]] = Field(default={}, max_length=2000)

    @property
    def alone(self) -> Alone | None:
        """Which rows of which outside table; None where it is a questionnaire."""
        return (self.outside, self.only) if self.outside is not None else None


class LeavesOut(_Part):
    """Rows of a table in which the rule is a definite yes stay out, with what is below them, for a reason."""

    rule: Rule
    table: Name = INTERVIEWS
    reason: str = Field(default="", max_length=1000)


class Wide(_Part):
    """Rows of a roster beside each other on the row that they belong to: `age_1`, `age_2`, as far as `most` go."""

    how: Literal["wide"] = "wide"
    table: Name
    variables: list[Name] = Field(min_length=1, max_length=200)
    most: int = Field(ge=1, le=100)

    @model_validator(mode="after")
    def _has_room(self) -> Self:
        if len(self.variables) * self.most > _MOST_BESIDE:
            raise ValueError(
                f"That would be {len(self.variables) * self.most:,} columns; {_MOST_BESIDE:,} is the most."
            )
        return self


class Long(_Part):
    """Variables of a table under each other, as the rows of a new one: each of `columns` takes one of its list in turn."""

    how: Literal["long"] = "long"
    table: Name = INTERVIEWS
    into: Name
    columns: dict[Name, Annotated[list[Name], Field(max_length=500)]] = Field(min_length=1, max_length=200)

    @model_validator(mode="after")
    def _as_many(self) -> Self:
        if len({len(taken) for taken in self.columns.values()}) != 1 or not next(iter(self.columns.values())):
            raise ValueError(
                "Each variable of the new table takes as many of the old ones as the others, one at least."
            )
        return self


Turn = Annotated[Wide | Long, Field(discriminator="how")]


class Recipe(_Part):
    """The sources are put under one another; then variables are derived, rows left out and tables turned, in this order.

    `rows` is the table that the rows of the data set are: the interviews, with all rosters below, or a roster, into whose
    rows the variables above are carried down.
    """

    sources: list[Source] = Field(min_length=1, max_length=30)
    accepted_only: bool = False
    derived: list[Derive] = Field(default=[], max_length=500)
    left_out: list[LeavesOut] = Field(default=[], max_length=100)
    turned: list[Turn] = Field(default=[], max_length=50)
    rows: Name = INTERVIEWS

    @property
    def questionnaires(self) -> list[int]:
        """Whose data it is made from, each once."""
        return list(dict.fromkeys(source.questionnaire for source in self.sources))


def _first_to_second(old: dict[str, Any]) -> dict[str, Any]:
    """Sources were questionnaires."""
    return {**old, "sources": [{"outside": None, "only": "all", **source} for source in old["sources"]]}


RECIPE = Format("recipe", (_first_to_second,))


def read_recipe(document: dict[str, Any]) -> Recipe:
    """A recipe as it is kept, of whichever version."""
    return Recipe.model_validate(RECIPE.read_body(document))


def write_recipe(recipe: Recipe) -> dict[str, Any]:
    """A recipe as it is kept."""
    return RECIPE.write(recipe.model_dump(mode="json"))


def recipe_of(questionnaire: int) -> Recipe:
    """What a questionnaire begins with: all of its interviews."""
    return Recipe(sources=[Source(questionnaire=questionnaire)])


def renamed_recipe(recipe: Recipe, questionnaire: int, names: dict[str, str], taken: dict[str, str]) -> Recipe:
    """The recipe where variables and rosters of a questionnaire are called otherwise now: the data set calls them as before.

    `taken` are names that something else has now, with what the data set calls that.
    """
    found = recipe.model_copy(deep=True)
    for source in found.sources:
        if source.questionnaire != questionnaire or source.outside is not None:
            continue
        kept = {new: source.names.get(old, old) for old, new in names.items()} | taken
        source.names = {
            n: c for n, c in ({n: c for n, c in source.names.items() if n not in names} | kept).items() if n != c
        }
        source.codes = {names.get(name, name): codes for name, codes in source.codes.items()}
    return found
