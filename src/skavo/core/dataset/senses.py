"""What changed meaning from one release to the next: its answers before stand apart from those after."""

from __future__ import annotations

from typing import Any

from skavo.core.interview.release import PartSpec, Release
from skavo.core.questionnaire.compare import kind_effect
from skavo.core.rules.state import Tree, with_names

# Between the identity of a part and the release up to which its answers mean something else than now.
_UP_TO = "@r"


def senses_of(releases: list[Release]) -> list[dict[str, str]]:
    """By release, oldest first: the parts whose answers mean something else than those to the newest release that has the
    part, each with the identity that they stand under instead.

    A part means something else once its kind cannot take over the answers before, its codes come from another list in which
    some mean something else, its units are of another register, or one of its units of measure holds another
    amount.
    """
    found: list[dict[str, str]] = [{} for _ in releases]
    newest: dict[str, tuple[PartSpec, Release, str]] = {}
    for place, release in reversed(list(enumerate(releases))):
        for part in release.parts:
            identity = part.raw["id"]
            later = newest.get(identity)
            stands = later[2] if later is not None else identity
            if later is not None and _means_else(part, release, later[0], later[1]):
                stands = f"{identity}{_UP_TO}{place + 1}"
            if stands != identity:
                found[place][identity] = stands
            newest[identity] = (part, release, stands)
    return found


def part_asked(identity: str) -> str:
    """The part whose answers stand under an identity, their own or that of an older meaning."""
    return identity.partition(_UP_TO)[0]


def _means_else(old: PartSpec, before: Release, new: PartSpec, after: Release) -> bool:
    if old.kind.name != new.kind.name:
        return kind_effect(old.kind.name, new.kind.name)[0] == "breaks"
    if old.raw["code_list"] != new.raw["code_list"]:
        codes, later = before.labels.get(old.raw["code_list"], {}), after.labels.get(new.raw["code_list"], {})
        return any(not _same(codes[code], later[code]) for code in codes.keys() & later.keys())
    if old.raw.get("register_name") != new.raw.get("register_name"):
        return True
    bases = {raw["base_unit"] for raw in (old.raw, new.raw)} - {""}
    if len(bases) > 1:
        return True
    amounts, later_amounts = _amounts(old, before), _amounts(new, after)
    return any(amounts[unit] != later_amounts[unit] for unit in amounts.keys() & later_amounts.keys())


def _amounts(part: PartSpec, release: Release) -> dict[str, Tree]:
    """How much one of each unit of measure is, by rules that are the same wherever the parts they read stand."""
    return {
        unit["unit"]: with_names(unit["factor"], lambda index: str(release.parts[index].raw["id"]))
        for unit in part.raw["units"]
    }


def _same(one: dict[str, str], other: dict[str, str]) -> bool:
    return one == other or any(one[lang].casefold() == other[lang].casefold() for lang in one.keys() & other.keys())


def in_their_sense(tables: dict[str, list[dict[str, Any]]], senses: dict[str, str]) -> dict[str, list[dict[str, Any]]]:
    """What was laid out of an interview, with the answers that mean something else under their own identity."""
    if not senses:
        return tables
    return {
        name: [
            {
                **row,
                **{
                    of: {senses.get(part, part): told for part, told in row[of].items()} for of in ("values", "missing")
                },
            }
            for row in rows
        ]
        for name, rows in tables.items()
    }
