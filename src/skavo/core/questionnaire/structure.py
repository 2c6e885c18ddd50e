"""What is checked of a script besides its rules: names, levels, code lists, texts."""

from __future__ import annotations

import re
from collections.abc import Iterator

from skavo.core.interview.kinds import KINDS, SPECIAL_ANSWERS
from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.outline import Entry
from skavo.core.questionnaire.script import CodeList, Part, Script
from skavo.core.rules.types import nearest

_VARIABLE = re.compile(r"[a-z][a-z0-9_]*")
_CODE = re.compile(r"[^\s/,;\"{}]+")
RESERVED = {
    "and", "or", "not", "if", "then", "else", "is", "of", "between", "includes", "matches", "where", "was", "yes",
    "no", "answered", "missing", "known", "refused", "asked", "today", "now", "row", "one", "none", "any", "all",
    "only", "pattern", "unit", "earlier", "interview", "enumerator", "times", "while",
}  # fmt: skip


def check_structure(script: Script, entries: list[Entry]) -> list[Finding]:
    """All findings about the script's parts and code lists that no rule is needed for."""
    findings = [*_check_names(entries), *_check_codes(script), *_check_ids(script)]
    levels = 0
    for line, part in enumerate(script.parts):
        findings += _check_part(script, line, part, levels)
        kind = KINDS.get(part.kind)
        levels = part.level if kind and kind.holds_parts else part.level - 1
    if not script.parts:
        findings.append(Finding("error", "no_parts", "The questionnaire has no questions.", "Add the first one."))
    return findings


def _error(line: int, part: Part, field: str, code: str, message: str, mend: str = "") -> Finding:
    return Finding("error", code, message, mend, line, part.id, field)


def _check_ids(script: Script) -> Iterator[Finding]:
    seen: set[str] = set()
    for line, part in enumerate(script.parts):
        if part.id in seen:
            yield _error(
                line, part, "id", "double_id", "Two parts have the same lasting identity.", "Give it a new one."
            )
        seen.add(part.id)


def _check_names(entries: list[Entry]) -> Iterator[Finding]:
    seen: dict[str, Entry] = {}
    for entry in entries:
        part, name = entry.part, entry.part.variable
        if not name:
            if part.kind not in ("section", "statement"):
                yield _error(
                    entry.source, part, "variable", "no_variable", "A variable is missing.", "Name the answer."
                )
            continue
        if not _VARIABLE.fullmatch(name):
            message = f"“{name}” is no variable name."
            mend = f"Small letters, digits and _ only, a letter first: {suggest_variable(name)}"
            yield _error(entry.source, part, "variable", "wrong_variable", message, mend)
        elif len(name) > 32:
            yield _error(
                entry.source,
                part,
                "variable",
                "long_variable",
                f"“{name}” has {len(name)} characters.",
                "Use at most 32.",
            )
        elif name in RESERVED:
            yield _error(
                entry.source,
                part,
                "variable",
                "reserved",
                f"“{name}” is a word of the rule language.",
                f"Use {name}_ and a second word.",
            )
        if name in seen:
            first = seen[name]
            message = f"“{name}” is already the variable of line {first.source + 1}."
            if entry.specifies is not None or first.specifies is not None:
                message = f"“{name}” is also the name of an “other, specify” question that comes by itself."
            yield _error(entry.source, part, "variable", "double_variable", message, "Give one of them another name.")
        seen.setdefault(name, entry)


def suggest_variable(text: str) -> str:
    """A lawful variable name made of `text`."""
    plain = re.sub(r"[^a-z0-9]+", "_", text.lower()).strip("_")[:32]
    return plain if plain[:1].isalpha() else f"q_{plain}"[:32].rstrip("_")


def _check_part(script: Script, line: int, part: Part, level_above: int) -> Iterator[Finding]:
    kind = KINDS.get(part.kind)
    if kind is None:
        hint = nearest(part.kind, KINDS)
        mend = f"Did you mean {hint}?" if hint else "Kinds: " + ", ".join(KINDS) + "."
        yield _error(line, part, "kind", "unknown_kind", f"There is no kind “{part.kind}”.", mend)
        return
    if part.level > level_above + 1:
        message = "This line is deeper than the section or roster above it allows."
        yield _error(line, part, "level", "level_jump", message, f"Level {level_above + 1} at most.")
    yield from _check_list_of(script, line, part, kind.uses_codes)
    for special in part.special_answers:
        if special not in SPECIAL_ANSWERS:
            yield _error(
                line,
                part,
                "special_answers",
                "unknown_special",
                f"“{special}” is no special answer.",
                "dont_know, refused",
            )
    if part.least is not None and part.most is not None and part.least > part.most:
        yield _error(line, part, "least", "least_above_most", "The least number is above the most.", "Swap them.")
    if part.kind != "derived value":
        yield from _check_texts(script, line, part)


def _check_list_of(script: Script, line: int, part: Part, uses_codes: bool) -> Iterator[Finding]:
    if not uses_codes:
        return
    names = [entry.name for entry in script.code_lists]
    if not part.code_list:
        yield _error(
            line, part, "code_list", "no_code_list", "A code list is missing.", "Choose one or write a new one."
        )
    elif part.code_list not in names:
        hint = nearest(part.code_list, names)
        mend = f"Did you mean {hint}?" if hint else f"Write the list {part.code_list}."
        yield _error(line, part, "code_list", "unknown_code_list", f"There is no code list “{part.code_list}”.", mend)


def _check_texts(script: Script, line: int, part: Part) -> Iterator[Finding]:
    for lang in script.languages:
        if part.wording.get(lang, "").strip():
            continue
        if lang == script.languages[0]:
            yield _error(line, part, f"wording.{lang}", "no_wording", "The wording is missing.", "Write what is asked.")
        else:
            message = f"Not yet worded in {lang}; {script.languages[0]} will be shown."
            yield Finding("doubt", "not_translated", message, "Translate it.", line, part.id, f"wording.{lang}")


def _check_codes(script: Script) -> Iterator[Finding]:
    seen_lists: set[str] = set()
    for entry in script.code_lists:
        if entry.name in seen_lists:
            yield Finding(
                "error",
                "double_list",
                f"Two code lists are called “{entry.name}”.",
                "Rename one.",
                code_list=entry.name,
            )
        seen_lists.add(entry.name)
        if not _VARIABLE.fullmatch(entry.name):
            mend = f"Small letters, digits and _ only: {suggest_variable(entry.name)}"
            yield Finding("error", "wrong_list_name", f"“{entry.name}” is no list name.", mend, code_list=entry.name)
        yield from _check_list(script, entry)


def _check_list(script: Script, entry: CodeList) -> Iterator[Finding]:
    if not entry.codes:
        yield Finding("error", "empty_list", f"The list {entry.name} has no codes.", "Add one.", code_list=entry.name)
    seen: set[str] = set()
    for code in entry.codes:
        if code.code in seen:
            yield Finding(
                "error",
                "double_code",
                f"The list {entry.name} has the code “{code.code}” twice.",
                "Change one.",
                code_list=entry.name,
            )
        seen.add(code.code)
        if not _CODE.fullmatch(code.code):
            yield Finding(
                "error",
                "wrong_code",
                f"“{code.code}” is no code.",
                "No spaces, commas, quotes, / or braces.",
                code_list=entry.name,
            )
        if not code.label.get(script.languages[0], "").strip():
            yield Finding(
                "error",
                "no_label",
                f"The code {code.code} of {entry.name} has no label.",
                "Write one.",
                code_list=entry.name,
            )
