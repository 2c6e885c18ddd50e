"""What is said of a kind of unit besides its fields, which are the lines of a questionnaire."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

Identity = Annotated[str, Field(min_length=1, max_length=200)]
# How figures of what lies below are carried up to a unit.
How = Literal["sum", "least", "most"]
# Whether units go onto phones: not at all, to be looked at, or to be changed and added there.
OnPhones = Literal["no", "read", "change"]


class Carried(BaseModel):
    """The field `part_id` of this kind, told of every unit above: what it adds up to, or its least or most.

    Of a single answer the least is the first of its codes and the most the last: where codes run from good to bad, the
    most is the worst condition.
    """

    model_config = ConfigDict(extra="forbid")
    part_id: Identity
    how: How


class KindSettings(BaseModel):
    """`under` are the kinds, by identity, that it may hang under; `stands_alone` whether it needs none above it.

    `key_named` is what its key is called and `key_mask` how one looks (as of a text answer), "" for any. `label` is the
    field that units are called by, "" where they are called by their key; `glyph` stands before them in the tree.
    `on_phones` says whether they go onto phones, `sensitive_on_phones` whether their sensitive fields do; `own` that one
    made on a phone is whose it is alone, as the places on somebody's own list. Whoever may not see a place sees the square
    of `coarse_km` kilometres that it lies in, none with 0.
    """

    model_config = ConfigDict(extra="forbid")
    under: list[Annotated[int, Field(ge=1, le=2**31)]] = Field(default=[], max_length=50)
    stands_alone: bool = True
    key_named: str = Field(default="", max_length=40)
    key_mask: str = Field(default="", max_length=200)
    label: str = Field(default="", max_length=200)
    glyph: str = Field(default="●", min_length=1, max_length=4)
    carried: list[Carried] = Field(default=[], max_length=20)
    on_phones: OnPhones = "no"
    sensitive_on_phones: bool = False
    own: bool = False
    coarse_km: Annotated[int, Field(ge=0, le=1000)] = 0
