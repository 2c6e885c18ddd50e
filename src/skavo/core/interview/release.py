"""A release as the engine uses it: rules bound to functions, and who depends on whom."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from skavo.core.interview.kinds import KINDS, Kind
from skavo.core.rules.evaluate import Rule, Tree, bind, variables_in


@dataclass(frozen=True)
class CompiledCheck:
    number: int
    strength: str
    text: str
    rule: Rule
    message: dict[str, list[Any]]
    reads: frozenset[int]


@dataclass
class PartSpec:
    """One part of a release. `depth` is the number of rosters around it, `parent_depth` that of its parent's rows."""

    index: int
    raw: dict[str, Any]
    kind: Kind
    variable: str
    parent: int | None
    rosters: tuple[int, ...]
    end: int
    asked_when: Rule | None
    needed: Rule | bool
    repeat: tuple[str, Rule] | None
    derived: Rule | None
    default: Rule | None
    code_filter: Rule | None
    checks: list[CompiledCheck]
    in_roster: bool = False
    children: list[int] = field(default_factory=list)
    # parts to bring up to date, and parts whose checks to try again, each with the rows they share (a depth)
    affects: list[tuple[int, int]] = field(default_factory=list)
    affects_checks: list[tuple[int, int]] = field(default_factory=list)

    @property
    def depth(self) -> int:
        return len(self.rosters)


class Release:
    """Loads the JSON of compile_script; shared by all interviews made with it."""

    def __init__(self, raw: dict[str, Any]) -> None:
        self.raw = raw
        self.languages: list[str] = raw["languages"]
        self.lists: dict[str, list[dict[str, Any]]] = raw["code_lists"]
        self.orders = {name: [code["code"] for code in codes] for name, codes in self.lists.items()}
        self.labels = {name: {code["code"]: code["label"] for code in codes} for name, codes in self.lists.items()}
        self.parts = [_part(index, part) for index, part in enumerate(raw["parts"])]
        self.by_name = {part.variable: part.index for part in self.parts if part.variable}
        self.texts: dict[int, dict[str, Rule]] = {}
        for part in self.parts:
            if part.parent is not None:
                parent = self.parts[part.parent]
                parent.children.append(part.index)
                part.in_roster = parent.kind.name == "roster"
            self._link(part)

    def _link(self, part: PartSpec) -> None:
        raw = part.raw
        for source in _reads(raw["asked_when"], raw["repeat"], raw["derived"], raw["default"]):
            if source != part.index:
                self.parts[source].affects.append((part.index, self._shared(source, part)))
        checked = _reads(raw["code_filter"], raw["needed"], *[check["rule"] for check in raw["checks"]])
        for source in checked - {part.index}:
            self.parts[source].affects_checks.append((part.index, self._shared(source, part)))

    def _shared(self, source: int, part: PartSpec) -> int:
        shared = 0
        for mine, theirs in zip(part.rosters, self.parts[source].rosters, strict=False):
            if mine != theirs:
                break
            shared += 1
        return shared


def _part(index: int, raw: dict[str, Any]) -> PartSpec:
    needed = raw["needed"]
    repeat = raw["repeat"]
    return PartSpec(
        index=index,
        raw=raw,
        kind=KINDS[raw["kind"]],
        variable=raw["variable"],
        parent=raw["parent"],
        rosters=tuple(raw["rosters"]),
        end=raw["end"],
        asked_when=_bound(raw["asked_when"]),
        needed=needed if isinstance(needed, bool) else bind(needed),
        repeat=(repeat[0], bind(repeat[1])) if repeat else None,
        derived=_bound(raw["derived"]),
        default=_bound(raw["default"]),
        code_filter=_bound(raw["code_filter"]),
        checks=[
            CompiledCheck(
                number, c["strength"], c["text"], bind(c["rule"]), c["message"], frozenset(variables_in(c["rule"]))
            )
            for number, c in enumerate(raw["checks"])
        ],
    )


def _bound(tree: Tree | None) -> Rule | None:
    return None if tree is None else bind(tree)


def _reads(*trees: Tree | None) -> set[int]:
    return set().union(*(variables_in(tree) for tree in trees))
