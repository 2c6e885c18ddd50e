"""Merging two code lists: which code becomes which, and a script in which one list is left."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from skavo.core.interview.code_search import folded
from skavo.core.questionnaire.graft import free_name
from skavo.core.questionnaire.rename import Followed, rename_codes
from skavo.core.questionnaire.script import Code, CodeList, Script

Why = Literal["same code", "same label", "new", "clash"]


@dataclass(frozen=True)
class Becomes:
    """What a code of the list that goes becomes in the one that stays.

    A *clash* is a code that both have with different labels: somebody has to say whether they mean the same. Until
    then it comes along under a code of its own.
    """

    code: str
    label: str
    becomes: str
    why: Why
    label_there: str = ""


def plan_merge(stays: CodeList, goes: CodeList, language: str) -> list[Becomes]:
    """What would become of every code of `goes`, in its order; labels are compared in `language`, without accents."""
    there = {code.code: code for code in stays.codes}
    by_label: dict[str, str] = {}
    for code in stays.codes:
        by_label.setdefault(folded(code.label.get(language, "")), code.code)
    taken = set(there) | {code.code for code in goes.codes}
    plan = []
    for code in goes.codes:
        label = code.label.get(language, "")
        same = by_label.get(folded(label)) if label.strip() else None
        known = there.get(code.code)
        if known is not None and same in (code.code, None) and not _differ(label, known.label.get(language, "")):
            plan.append(Becomes(code.code, label, code.code, "same code"))
        elif same is not None:
            plan.append(Becomes(code.code, label, same, "same label", there[same].label.get(language, "")))
        elif known is not None:
            free = free_name(code.code, taken)
            taken.add(free)
            plan.append(Becomes(code.code, label, free, "clash", known.label.get(language, "")))
        else:
            plan.append(Becomes(code.code, label, code.code, "new"))
    return plan


def _differ(one: str, other: str) -> bool:
    return bool(one.strip() and other.strip()) and folded(one) != folded(other)


@dataclass(frozen=True)
class Merged:
    script: Script
    followed: list[Followed]


def merge_lists(script: Script, stays: str, goes: str, becomes: Mapping[str, str]) -> Merged:
    """The script with `goes` merged into `stays`; `becomes` leads from codes of `goes` to those they are from now on.

    Codes that `stays` lacks are added behind; one that it has keeps its labels and gets those it lacks. Questions,
    filters, rules and lists that hang under `goes` follow. Raise KeyError where there is no such list.
    """
    lists = {entry.name: entry for entry in script.code_lists}
    merged = _merged(lists[stays], lists[goes], becomes)
    coded = rename_codes(script, goes, {old: new for old, new in becomes.items() if old != new})
    named = re.compile(rf"\b{re.escape(goes)}\.")
    parts = [
        part
        if part.code_list != goes
        else part.model_copy(update={"code_list": stays, "code_filter": named.sub(f"{stays}.", part.code_filter)})
        for part in coded.script.parts
    ]
    left = [merged if entry.name == stays else entry for entry in coded.script.code_lists if entry.name != goes]
    return Merged(coded.script.model_copy(update={"parts": parts, "code_lists": left}), coded.followed)


def _merged(stays: CodeList, goes: CodeList, becomes: Mapping[str, str]) -> CodeList:
    merged = stays.model_copy(deep=True)
    there = {code.code: code for code in merged.codes}
    for code in goes.codes:
        name = becomes.get(code.code, code.code)
        if name in there:
            _fill(there[name], code)
        else:
            there[name] = code.model_copy(update={"code": name}, deep=True)
            merged.codes.append(there[name])
    return merged


def _fill(code: Code, other: Code) -> None:
    code.label = {**other.label, **{tag: said for tag, said in code.label.items() if said.strip()}}
    code.attributes = {**other.attributes, **{name: held for name, held in code.attributes.items() if held}}
