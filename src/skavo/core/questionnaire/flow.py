"""What leads where: the blocks that a questionnaire is made of, and which question decides about which."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from skavo.core.interview.release import PartSpec, Release
from skavo.core.rules.state import reads_of


@dataclass(frozen=True)
class Block:
    """An outermost section, roster or grid, or questions between them; `head` is its part, "" for loose questions.

    `parts` are the parts that are shown or answered, in their order.
    """

    head: str
    parts: list[str]


@dataclass(frozen=True)
class Dependence:
    """A part whose `field` reads the answer of another one: asked when, repeated, codes, derived, needed, a check, a
    wording."""

    part: str
    reads: str
    field: str


def blocks_of(release: Release) -> list[Block]:
    """The blocks from first to last; each part that somebody meets stands in one of them."""
    blocks: list[Block] = []
    loose = False
    for index in release.roots:
        part = release.parts[index]
        if part.kind.holds_parts:
            inside = [p.raw["id"] for p in release.parts[index + 1 : part.end] if _is_met(p)]
            blocks.append(Block(part.raw["id"], inside))
            loose = False
        elif _is_met(part):
            if not loose:
                blocks.append(Block("", []))
            blocks[-1].parts.append(part.raw["id"])
            loose = True
    return [block for block in blocks if block.parts]


def _is_met(part: PartSpec) -> bool:
    return part.kind.takes_answer or part.kind.name == "statement"


def dependences(release: Release) -> list[Dependence]:
    """Who reads whose answer, each once for a field; what only a derived value reads is told of the derived value."""
    found: dict[Dependence, None] = {}
    for part in release.parts:
        for field, tree in _trees(part):
            for index in sorted(reads_of(tree)):
                if index != part.index:
                    found[Dependence(part.raw["id"], release.parts[index].raw["id"], field)] = None
    return list(found)


def _trees(part: PartSpec) -> Iterator[tuple[str, Any]]:
    raw = part.raw
    yield "asked when", raw["asked_when"]
    yield "repeated", raw["repeat"]
    yield "codes", raw["code_filter"]
    yield "derived", raw["derived"]
    yield "default", raw["default"]
    yield "answer needed", raw["needed"] if isinstance(raw["needed"], list) else None
    for check in raw["checks"]:
        yield f"{check['strength']} hold", check["rule"]
    for texts in (raw["wording"], raw["instruction"]):
        for segments in texts.values():
            yield "wording", [piece["rule"] for piece in segments if isinstance(piece, dict)]
