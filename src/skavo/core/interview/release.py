"""A release as the engine uses it: rules bound to functions, and who depends on whom."""

from __future__ import annotations

from dataclasses import dataclass, field
from decimal import Decimal
from typing import Any, Literal

from skavo.core.interview.formats import RELEASE
from skavo.core.interview.kinds import KINDS, Kind
from skavo.core.rules.evaluate import bind
from skavo.core.rules.state import Rule, Tree, reads_of


@dataclass(frozen=True, slots=True)
class CompiledCheck:
    number: int
    strength: Literal["must", "should"]
    text: str
    rule: Rule
    message: dict[str, list[Any]]
    reads: dict[int, int]


@dataclass(frozen=True, slots=True)
class CodesUnder:
    """A filter that asks for one attribute only: the codes by its value, so that none has to be tried."""

    value: Rule
    codes: dict[str, list[dict[str, Any]]]


@dataclass(slots=True)
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
    # how many base units one of each unit is; empty where the answer is no quantity
    factors: dict[str, Rule]
    reads_back: int | None
    least: Decimal | None
    most: Decimal | None
    # whether anything besides its own checks may be wrong with an answer
    is_bounded: bool
    codes_under: CodesUnder | None = None
    in_roster: bool = False
    children: list[int] = field(default_factory=list)
    # parts to bring up to date, and parts whose checks to try again, each with the rows they share (a depth)
    affects: list[tuple[int, int]] = field(default_factory=list)
    affects_checks: list[tuple[int, int]] = field(default_factory=list)

    @property
    def depth(self) -> int:
        return len(self.rosters)

    @property
    def has_local_units(self) -> bool:
        """Whether an answer may be in a unit whose factor follows from other answers, and so may not be known."""
        return any(unit["factor"][0] != "literal" for unit in self.raw["units"])

    @property
    def shuffles(self) -> bool:
        """Whether what it holds, or its codes, come in an order of the interview's own."""
        return bool(self.raw["order"] == "random")


class Release:
    """Loads the JSON of compile_script, of any version; shared by all interviews made with it.

    Raise FormatError for what is no release or was written by a newer Skavo.
    """

    def __init__(self, raw: dict[str, Any]) -> None:
        raw = RELEASE.read(raw)
        self.raw = raw
        self.languages: list[str] = raw["languages"]
        self.words: dict[str, dict[str, str]] = raw.get("words", {})
        self.lists: dict[str, list[dict[str, Any]]] = raw["code_lists"]
        self.orders = {name: [code["code"] for code in codes] for name, codes in self.lists.items()}
        self.exclusive = {name: {c["code"] for c in codes if c["exclusive"]} for name, codes in self.lists.items()}
        self.labels = {name: {code["code"]: code["label"] for code in codes} for name, codes in self.lists.items()}
        self.parts = [_part(index, part) for index, part in enumerate(raw["parts"])]
        self.by_name = {part.variable: part.index for part in self.parts if part.variable}
        self.roots = [part.index for part in self.parts if part.parent is None]
        self.outermost = {part.variable: part for part in self.parts if part.variable and not part.rosters}
        self.texts: dict[int, dict[str, Rule]] = {}
        # Labels as search looks at them, by list and language; made when first asked for.
        self.folded: dict[tuple[str, str], dict[str, str]] = {}
        for part in self.parts:
            part.codes_under = self._codes_under(part.raw)
            if part.parent is not None:
                parent = self.parts[part.parent]
                parent.children.append(part.index)
                part.in_roster = parent.kind.name == "roster"
            self._link(part)

    def _codes_under(self, raw: dict[str, Any]) -> CodesUnder | None:
        tree = raw["code_filter"]
        if tree is None or tree[0] != "is":
            return None
        for attribute, value in (tree[1:], tree[:0:-1]):
            if attribute[0] == "attribute" and value[0] == "variable":
                codes: dict[str, list[dict[str, Any]]] = {}
                for code in self.lists.get(raw["code_list"], []):
                    held = {**code["attributes"], "code": code["code"]}.get(attribute[1])
                    if held is not None:
                        codes.setdefault(held, []).append(code)
                return CodesUnder(bind(value), codes)
        return None

    def _link(self, part: PartSpec) -> None:
        raw = part.raw
        # What decides whether there is an answer rests on nothing of its own, but for `while`, which is settled apart.
        flow = reads_of([raw["asked_when"], raw["repeat"], raw["derived"], raw["default"], *_factors(raw)])
        if part.reads_back is not None:
            flow[part.reads_back] = self.parts[part.reads_back].depth
        for source, shared in flow.items():
            if source != part.index:
                # `while` stands inside the roster, one row deeper than the roster itself.
                self.parts[source].affects.append((part.index, min(shared, part.depth)))
        checked = reads_of([raw["code_filter"], raw["needed"], *[check["rule"] for check in raw["checks"]]])
        for source, shared in checked.items():
            if source != part.index or shared < part.depth:
                self.parts[source].affects_checks.append((part.index, shared))


def _part(index: int, raw: dict[str, Any]) -> PartSpec:
    needed = raw["needed"]
    repeat = raw["repeat"]
    kind = KINDS[raw["kind"]]
    limits = raw["least"] is not None or raw["most"] is not None
    return PartSpec(
        index=index,
        raw=raw,
        kind=kind,
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
            CompiledCheck(number, c["strength"], c["text"], bind(c["rule"]), c["message"], reads_of(c["rule"]))
            for number, c in enumerate(raw["checks"])
        ],
        factors={unit["unit"]: bind(unit["factor"]) for unit in raw["units"]},
        reads_back=raw["reads_back"],
        least=_limit(raw["least"]),
        most=_limit(raw["most"]),
        is_bounded=kind.uses_codes or limits or bool(raw["mask"]) or kind.name in ("unit", "read-back", "quantity"),
    )


def _limit(raw: int | float | None) -> Decimal | None:
    return None if raw is None else Decimal(str(raw))


def _factors(raw: dict[str, Any]) -> list[Tree]:
    return [unit["factor"] for unit in raw["units"]]


def _bound(tree: Tree | None) -> Rule | None:
    return None if tree is None else bind(tree)
