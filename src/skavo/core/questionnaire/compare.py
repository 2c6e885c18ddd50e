"""What has changed between two scripts, matched by lasting identities, and what that means for data already collected."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Literal

from skavo.core.questionnaire.compare_lists import list_changes, unit_changes
from skavo.core.questionnaire.compare_rules import rule_changes
from skavo.core.questionnaire.outline import Entry, build_outline
from skavo.core.questionnaire.script import Part, Script

Effect = Literal["none", "wider", "narrower", "breaks"]
# Says how a rule's yes has changed: same, wider, narrower, different or undecided.
Judge = Callable[[Script, int, str, str], str]


@dataclass(frozen=True)
class Change:
    """`what` is one of added, removed, moved, renamed, re-worded, kind, codes, units, rule, limit, property.

    `effect` is what it means for interviews collected before, `words` says it; `part_id` is empty for a list.
    """

    what: str
    part_id: str
    variable: str
    field: str
    before: str
    after: str
    effect: Effect
    words: str


@dataclass(frozen=True)
class Mapped:
    """How a variable of the older release comes into the data set of both: its table, its name, its conversion."""

    part_id: str
    before: str
    after: str
    before_table: str
    after_table: str
    conversion: str


@dataclass(frozen=True)
class Comparison:
    changes: list[Change]
    mapping: list[Mapped]

    @property
    def worst(self) -> Effect:
        order: list[Effect] = ["breaks", "narrower", "wider", "none"]
        return next((e for e in order if any(c.effect == e for c in self.changes)), "none")


def compare_scripts(before: Script, after: Script, judge: Judge | None = None) -> Comparison:
    """Every change from `before` to `after`, in the order of the newer script, removals last.

    Without a `judge` a changed rule counts as different: both wider and narrower.
    """
    olds = {e.part.id: e for e in build_outline(before)}
    news = {e.part.id: e for e in build_outline(after)}
    names = {olds[i].part.variable: news[i].part.variable for i in olds.keys() & news.keys() if olds[i].part.variable}
    changes: list[Change] = []
    moved = _moved(olds, news)
    for identity, new in news.items():
        old = olds.get(identity)
        if old is None:
            changes.append(_added(new))
        else:
            changes += _part_changes(before, after, old, new, identity in moved)
            changes += [_of(new.part, *change) for change in rule_changes(after, old, new, names, judge)]
    changes += [_removed(old) for identity, old in olds.items() if identity not in news]
    changes += [Change(what, "", name, field, b, a, effect, words) for what, name, field, b, a, effect, words in (
        *list_changes(before, after), *unit_changes(before, after))]  # fmt: skip
    changes += _noted_changes(before, after)
    return Comparison(changes, _mapping(before, after, olds, news))


def _noted_changes(before: Script, after: Script) -> Iterator[Change]:
    """What the phone notes of itself from now on, or no longer."""
    old, new = (script.paradata.model_dump(exclude={"told_by"}) for script in (before, after))
    for name in new:
        if old[name] != new[name]:
            words = "Interviews collected before have none." if new[name] else "Later interviews have none."
            yield Change("noted", "", name, "paradata", _noted(old[name]), _noted(new[name]), "none", words)


def _noted(is_noted: bool) -> str:
    return "noted by the phone" if is_noted else "not noted"


def _of(part: Part, what: str, field: str, before: str, after: str, effect: Effect, words: str) -> Change:
    return Change(what, part.id, part.variable, field, before, after, effect, words)


def _added(entry: Entry) -> Change:
    words = "Interviews collected before have it as not asked."
    return _of(entry.part, "added", "", "", entry.part.kind, "none", words)


def _removed(entry: Entry) -> Change:
    words = "What was collected stays in the data set; later interviews have it as not asked."
    return _of(entry.part, "removed", "", entry.part.kind, "", "none", words)


def _table(outline: dict[int, Entry], entry: Entry) -> str:
    return outline[entry.rosters[-1]].part.variable if entry.rosters else "interviews"


def _moved(olds: dict[str, Entry], news: dict[str, Entry]) -> set[str]:
    """The parts that are out of their old order: the fewest whose moving explains it."""
    common = [i for i in news if i in olds]
    places = [olds[i].index for i in common]
    kept = _longest_rising(places)
    return {i for i, place in zip(common, places, strict=True) if place not in kept}


def _longest_rising(places: list[int]) -> set[int]:
    """A longest rising subsequence (patience sorting)."""
    ends: list[int] = []
    ends_at: list[int] = []
    before: dict[int, int | None] = {}
    for place in places:
        at = bisect_left(ends, place)
        before[place] = ends_at[at - 1] if at else None
        if at == len(ends):
            ends.append(place)
            ends_at.append(place)
        else:
            ends[at] = ends_at[at] = place
    found: set[int] = set()
    step = ends_at[-1] if ends_at else None
    while step is not None:
        found.add(step)
        step = before[step]
    return found


def _part_changes(before: Script, after: Script, old: Entry, new: Entry, moved: bool) -> Iterator[Change]:
    a, b = old.part, new.part
    if a.variable != b.variable:
        words = "The data set brings both under the new name."
        yield _of(b, "renamed", "variable", a.variable, b.variable, "none", words)
    old_table = _table({e.index: e for e in build_outline(before)}, old) if old.rosters else "interviews"
    new_table = _table({e.index: e for e in build_outline(after)}, new) if new.rosters else "interviews"
    if old_table != new_table and len(old.rosters) != len(new.rosters):
        words = f"It was answered once for each row of {old_table}, now of {new_table}: the answers do not go together."
        yield _of(b, "moved", "level", old_table, new_table, "breaks", words)
    elif moved:
        yield _of(
            b, "moved", "", str(old.index + 1), str(new.index + 1), "none", "Only its place in the order changed."
        )
    if a.kind != b.kind:
        effect, words = kind_effect(a.kind, b.kind)
        yield _of(b, "kind", "kind", a.kind, b.kind, effect, words)
    for field in ("wording", "instruction"):
        yield from _text_changes(a, b, field)
    yield from _limits(a, b)
    yield from _properties(a, b)


def _text_changes(a: Part, b: Part, field: str) -> Iterator[Change]:
    old, new = getattr(a, field), getattr(b, field)
    for lang in dict.fromkeys([*old, *new]):
        if old.get(lang, "") != new.get(lang, ""):
            words = "Look whether it still asks the same." if field == "wording" else "The answers go together."
            if not old.get(lang):
                words = "A translation was added."
            yield _of(b, "re-worded", f"{field}.{lang}", old.get(lang, ""), new.get(lang, ""), "none", words)


def _limits(a: Part, b: Part) -> Iterator[Change]:
    for field in ("least", "most"):
        old, new = getattr(a, field), getattr(b, field)
        if old == new:
            continue
        wider = new is None or (old is not None and (new < old if field == "least" else new > old))
        words = "More is allowed than before." if wider else "Interviews collected before may lie outside."
        yield _of(b, "limit", field, _text(old), _text(new), "wider" if wider else "narrower", words)
    if a.mask != b.mask:
        wider = not b.mask
        words = "Any text is allowed now." if wider else "Texts collected before may not fit."
        yield _of(b, "limit", "mask", a.mask, b.mask, "wider" if wider else "narrower", words)


def _text(value: object) -> str:
    return "" if value is None else str(value)


def _properties(a: Part, b: Part) -> Iterator[Change]:
    gone = [s for s in a.special_answers if s not in b.special_answers]
    come = [s for s in b.special_answers if s not in a.special_answers]
    if gone or come:
        effect: Effect = "narrower" if gone else "wider"
        words = "Interviews collected before may hold what is no longer offered." if gone else "More may be answered."
        before, after = (", ".join(p.special_answers).replace("_", " ") for p in (a, b))
        yield _of(b, "property", "special_answers", before, after, effect, words)
    if a.code_list != b.code_list and a.kind == b.kind:
        words = (
            "The codes come from another list; where one means something else, answers collected before stand apart."
        )
        yield _of(b, "codes", "code_list", a.code_list, b.code_list, "breaks", words)
    if a.unit != b.unit:
        words = "Sizes stay in base units; see whether the units measure the same."
        yield _of(b, "units", "unit", a.unit, b.unit, "wider", words)
    for field, words in (
        ("sensitive", "Who may see it changes for all interviews."),
        ("order", "The order of asking may bear on the answers."),
        ("read_aloud", ""),
        ("media", ""),
        ("register_name", "Units of another register are picked."),
        ("reads_back", ""),
        ("fills", "What is accepted from now on fills another field of the register."),
    ):
        old, new = getattr(a, field), getattr(b, field)
        if old != new:
            effect = "breaks" if field == "register_name" else "none"
            yield _of(b, "property", field, str(old), str(new), effect, words)


# What becomes of an answer of one kind in a column of another; as dataset/pieces.py reads it.
_KIND_EFFECTS: dict[tuple[str, str], tuple[Effect, str]] = {
    ("whole number", "decimal"): ("wider", "Whole numbers are decimals too."),
    ("decimal", "whole number"): ("narrower", "Numbers that are not whole become unanswered."),
    ("single answer", "multiple answer"): ("wider", "One code becomes a list of one."),
    ("multiple answer", "single answer"): ("narrower", "Where several codes were chosen, it becomes unanswered."),
    ("multiple answer", "ranking"): ("breaks", "The codes were not ranked."),
    ("ranking", "multiple answer"): ("wider", "The order of the ranking is no longer read."),
    ("date-time", "date"): ("narrower", "The time of day is left out."),
}


def kind_effect(before: str, after: str) -> tuple[Effect, str]:
    """What another kind means for the answers collected before."""
    if (before, after) in _KIND_EFFECTS:
        return _KIND_EFFECTS[before, after]
    plain = {"text", "scanned code"}
    if after in plain and before not in ("quantity", "instrument", "point", "path", "area"):
        return "wider", "Answers collected before become texts."
    return (
        "breaks",
        "Answers collected before cannot be read as this kind; they stand apart, under a name of their own.",
    )


def _mapping(before: Script, after: Script, olds: dict[str, Entry], news: dict[str, Entry]) -> list[Mapped]:
    old_outline, new_outline = ({e.index: e for e in entries.values()} for entries in (olds, news))
    found = []
    for identity, old in olds.items():
        if not old.part.variable or old.part.kind in ("section", "statement", "grid"):
            continue
        new = news.get(identity)
        target = new or old
        conversion = "as it is"
        if new is not None and old.part.kind != new.part.kind:
            conversion = kind_effect(old.part.kind, new.part.kind)[1]
        elif new is None:
            conversion = "kept, no longer asked"
        tables = _table(old_outline, old), _table(new_outline if new else old_outline, target)
        found.append(Mapped(identity, old.part.variable, target.part.variable, *tables, conversion))
    return found


def keep_identities(present: Script, script: Script) -> None:
    """Give the parts of `script` the identities that the same parts have in `present`.

    The same part has the same variable, or, where neither script has the other's variable, the same kind and wording.
    """
    by_name = {p.variable: p.id for p in present.parts if p.variable}
    tells = next((p for p in script.parts if p.id == script.paradata.told_by), None)
    taken: set[str] = set()
    left: list[Part] = []
    for part in script.parts:
        identity = by_name.get(part.variable)
        if identity is None or identity in taken:
            left.append(part)
        else:
            part.id = identity
            taken.add(identity)
    free = {_look(p): p.id for p in reversed(present.parts) if p.id not in taken}
    for part in left:
        identity = free.pop(_look(part), None)
        if identity is not None:
            part.id = identity
            taken.add(identity)
    _make_unique(script.parts)
    if tells is not None:
        script.paradata.told_by = tells.id


def _look(part: Part) -> tuple[str, tuple[tuple[str, str], ...]]:
    return part.kind, tuple(sorted(part.wording.items()))


def _make_unique(parts: Iterable[Part]) -> None:
    """A part that is new must not carry the identity of one that is not it."""
    seen: set[str] = set()
    for part in parts:
        base, number = part.id, 2
        while part.id in seen:
            part.id, number = f"{base}_{number}", number + 1
        seen.add(part.id)
