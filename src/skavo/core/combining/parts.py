"""A pair of rows read part by part: what each comparison found, and what that is worth."""

from __future__ import annotations

from dataclasses import dataclass

from skavo.core.combining.near import blocks_of
from skavo.core.combining.spec import Near
from skavo.core.errors import DataError
from skavo.core.linking.compare import MISSING, How
from skavo.core.linking.link import weigh_pair

# What the levels of a comparison say, from *differs* upward.
LEVEL_WORDS: dict[How, tuple[str, ...]] = {
    "text": ("different", "alike", "nearly the same", "same"),
    "date": ("another year", "same year", "a slip of the pen", "same"),
    "number": ("different", "within a hundredth", "same"),
    "whole": ("different", "a few apart", "one apart", "same"),
    "exact": ("different", "same"),
}
NOTHING = "says nothing"


@dataclass(frozen=True)
class Part:
    """A comparison of two cells: in words what it found, and its weight in bits."""

    ours: str
    theirs: str
    our_cell: str
    their_cell: str
    found: str
    bits: float


@dataclass(frozen=True)
class PartsRead:
    """`prior` is how likely any pair is before it is looked at, in bits; `total` all together; `blocks` those that put the
    pair together."""

    parts: list[Part]
    prior: float
    total: float
    blocks: list[str]


def parts_of(ours: dict[str, str], theirs: dict[str, str], near: Near) -> PartsRead:
    """What is learnt of a pair; raise DataError where nothing was learnt yet."""
    model = near.model()
    if model is None:
        raise DataError("nothing_learnt", "Nothing is known of these comparisons yet. Learn their weights first.")
    levels, bits = weigh_pair(ours, theirs, model)
    parts = [
        Part(
            one.ours, one.theirs, ours[one.ours], theirs[one.theirs],
            NOTHING if level == MISSING else LEVEL_WORDS[one.how][level], worth,
        )
        for one, level, worth in zip(near.compare, levels, bits, strict=True)
    ]  # fmt: skip
    agreeing = {
        one.ours for one, level in zip(near.compare, levels, strict=True) if level == len(LEVEL_WORDS[one.how]) - 1
    }
    blocks = [name for name, block in zip(blocks_of(near), near.blocks, strict=True) if agreeing.issuperset(block)]
    return PartsRead(parts, model.prior, model.prior + sum(bits), blocks)
