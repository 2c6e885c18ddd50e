"""How the ready modules are written down: one call for each line, texts in English, French and Arabic."""

from __future__ import annotations

from typing import Any

from skavo.core.modules.module import Module
from skavo.core.questionnaire.graft import Fragment
from skavo.core.questionnaire.script import Code, CodeList, Part, ScriptCheck, Texts, UnitList

LANGUAGES = ("en", "fr", "ar")
Three = tuple[str, str, str]
Checks = list[tuple[str, Three]]
COMMON_PRACTICE = "Common practice of household and establishment surveys; worded anew for Skavo."


def texts(three: Three) -> Texts:
    return dict(zip(LANGUAGES, three, strict=True))


def line(level: int, kind: str, variable: str, wording: Three, **more: Any) -> Part:
    """One line; `must` and `should` are pairs of a rule and its message, `say` is the instruction."""
    say, must, should = more.pop("say", None), more.pop("must", []), more.pop("should", [])
    return Part(
        id=variable or wording[0],
        level=level,
        kind=kind,
        variable=variable,
        wording=texts(wording) if wording[0] else {},
        instruction=texts(say) if say else {},
        must_hold=_checks(must),
        should_hold=_checks(should),
        **more,
    )


def _checks(checks: Checks) -> list[ScriptCheck]:
    return [ScriptCheck(rule=rule, message=texts(message)) for rule, message in checks]


def codes(name: str, *entries: tuple[str, Three], specify: str = "", exclusive: str = "") -> CodeList:
    """A list; `specify` and `exclusive` name the code that asks which other, and the one that goes with none."""
    return CodeList(
        name=name,
        codes=[
            Code(code=code, label=texts(label), specify=code == specify, exclusive=code == exclusive)
            for code, label in entries
        ],
    )


def module(
    name: str, title: Three, measures: Three, parts: list[Part], *, lists: list[CodeList] | None = None,
    units: list[UnitList] | None = None, source: str = COMMON_PRACTICE,
) -> Module:  # fmt: skip
    return Module(
        name=name,
        title=texts(title),
        measures=texts(measures),
        source=source,
        tested="Checked, proved and rehearsed with every build of Skavo; not yet asked in the field.",
        fragment=Fragment(languages=list(LANGUAGES), parts=parts, code_lists=lists or [], unit_lists=units or []),
    )
