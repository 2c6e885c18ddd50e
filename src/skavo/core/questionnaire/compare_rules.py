"""Changes of rules: whether they only look different, and which way they have moved."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping
from typing import Literal

from skavo.core.questionnaire.outline import Entry
from skavo.core.questionnaire.script import Script, ScriptCheck
from skavo.core.rules.faults import RuleSyntaxError
from skavo.core.rules.format import format_rule

Effect = Literal["none", "wider", "narrower", "breaks"]
Judge = Callable[[Script, int, str, str], str]
# what, field, before, after, effect, words
RuleChange = tuple[str, str, str, str, Effect, str]

_NAME = re.compile(r'"[^"\n]*"|[A-Za-z_]\w*')


def rule_changes(
    after: Script, old: Entry, new: Entry, names: Mapping[str, str], judge: Judge | None
) -> Iterator[RuleChange]:
    """The rules of a part that say something else than before; `names` leads from old variables to new ones."""
    a, b = old.part, new.part
    for field, words in _FLOW.items():
        before, now = _renamed(getattr(a, field), names), getattr(b, field)
        if not _same(before, now) and not (a.kind != b.kind and field in ("derived", "repeated")):
            direction = _direction(field, before, now, after, new, judge)
            effect, said = words[direction]
            yield "rule", field, getattr(a, field), now, effect, said
    for field in ("must_hold", "should_hold"):
        yield from _check_changes(after, new, field, getattr(a, field), getattr(b, field), names, judge)


def _renamed(text: str, names: Mapping[str, str]) -> str:
    return _NAME.sub(lambda m: names.get(m[0], m[0]), text)


def _same(before: str, after: str) -> bool:
    if before.strip() == after.strip():
        return True
    try:
        return format_rule(before) == format_rule(after)
    except RuleSyntaxError:
        return False


_YES_NO_FIELDS = ("asked_when", "code_filter", "answer_needed")


def _direction(field: str, before: str, after: str, script: Script, entry: Entry, judge: Judge | None) -> str:
    """wider, narrower, same or different: how often the rule comes out yes."""
    if field not in _YES_NO_FIELDS:
        return "different"
    empty = "no" if field == "answer_needed" else ""
    if before.strip() in ("", empty):
        return "wider" if field == "answer_needed" else "narrower"
    if after.strip() in ("", empty):
        return "narrower" if field == "answer_needed" else "wider"
    if judge is None or "yes" in (before.strip(), after.strip()):
        return "different"
    found = judge(script, entry.index, before, after)
    return found if found != "undecided" else "different"


def _check_changes(
    script: Script, entry: Entry, field: str, olds: list[ScriptCheck], news: list[ScriptCheck], names: Mapping[str, str],
    judge: Judge | None,
) -> Iterator[RuleChange]:  # fmt: skip
    hard = field == "must_hold"
    before, after = [_renamed(c.rule, names) for c in olds], [c.rule for c in news]
    gone = [rule for rule in before if rule and not any(_same(rule, other) for other in after)]
    come = [rule for rule in after if rule and not any(_same(rule, other) for other in before)]
    while gone and come:
        old, new = gone.pop(0), come.pop(0)
        found = judge(script, entry.index, old, new) if judge is not None else "different"
        effect: Effect = "none" if found == "same" or not hard else "wider" if found == "wider" else "narrower"
        yield "rule", field, old, new, effect, _CHECK_WORDS[effect if hard else "none"]
    for rule in gone:
        yield "rule", field, rule, "", "wider" if hard else "none", _CHECK_WORDS["wider" if hard else "none"]
    for rule in come:
        yield "rule", field, "", rule, "narrower" if hard else "none", _CHECK_WORDS["narrower" if hard else "none"]


_CHECK_WORDS = {
    "none": "What was collected before stays as it is.",
    "wider": "More is allowed than before.",
    "narrower": "Interviews collected before may break it; run the checks over them.",
}
_ASKED: dict[str, tuple[Effect, str]] = {
    "same": ("none", "It says the same in other words."),
    "wider": ("wider", "It is asked more often; earlier interviews have it as not asked there."),
    "narrower": ("narrower", "It is asked less often; answers from where it is no longer asked stay in the data set."),
    "different": ("narrower", "It is asked in other cases than before: narrower in some, wider in others."),
}
_FILTER: dict[str, tuple[Effect, str]] = {
    "same": ("none", "It says the same in other words."),
    "wider": ("wider", "More codes are offered than before."),
    "narrower": ("narrower", "Earlier interviews may hold codes that are no longer offered."),
    "different": ("narrower", "Other codes are offered than before."),
}
_NEEDED: dict[str, tuple[Effect, str]] = {
    "same": ("none", "It says the same in other words."),
    "wider": ("narrower", "Earlier interviews may lack an answer that is needed now."),
    "narrower": ("wider", "It may be left empty more often than before."),
    "different": ("narrower", "Earlier interviews may lack an answer that is needed now."),
}
_FLOW: dict[str, dict[str, tuple[Effect, str]]] = {
    "asked_when": _ASKED,
    "code_filter": _FILTER,
    "answer_needed": _NEEDED,
    "repeated": {"different": ("breaks", "Rows come about in another way: rows of both releases do not compare.")},
    "derived": {"different": ("breaks", "Values collected before were worked out by the old rule.")},
    "default": {"different": ("none", "Another answer stands there until one is given.")},
}
