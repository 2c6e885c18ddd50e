"""What is checked of a script besides its rules: names, levels, code lists, texts."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from skavo.core.dataset.pieces import PIECES
from skavo.core.interview.answers import SPECIAL_ANSWERS
from skavo.core.interview.kinds import KINDS, Kind
from skavo.core.languages.values import compare_values
from skavo.core.lists.hanging import check_hanging
from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.outline import REPEATS, Entry, units_of
from skavo.core.questionnaire.script import Part, Script
from skavo.core.questionnaire.structure_lists import check_code_lists, check_unit_lists
from skavo.core.questionnaire.variables import MOST_CHARACTERS, RESERVED, VARIABLE, suggest_variable
from skavo.core.rules.types import nearest
from skavo.core.rules.units import STANDARD


def check_structure(script: Script, entries: list[Entry]) -> list[Finding]:
    """All findings about the script's parts and lists that no rule is needed for."""
    findings = [
        *_check_names(entries),
        *_check_columns(entries),
        *check_code_lists(script),
        *check_hanging(script),
        *check_unit_lists(script),
        *_check_ids(script),
    ]
    level = 0
    for entry in entries:
        if entry.specifies is not None:
            continue
        findings += _check_part(script, entries, entry, level)
        kind = KINDS.get(entry.part.kind)
        level = entry.part.level if kind and kind.holds_parts else entry.part.level - 1
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
            if part.kind not in ("section", "statement", "grid"):
                yield _error(
                    entry.source, part, "variable", "no_variable", "A variable is missing.", "Name the answer."
                )
            continue
        if not VARIABLE.fullmatch(name):
            message = f"“{name}” is no variable name."
            mend = f"Small letters, digits and _ only, a letter first: {suggest_variable(name)}"
            yield _error(entry.source, part, "variable", "wrong_variable", message, mend)
        elif len(name) > MOST_CHARACTERS:
            yield _error(
                entry.source,
                part,
                "variable",
                "long_variable",
                f"“{name}” has {len(name)} characters.",
                f"Use at most {MOST_CHARACTERS}.",
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


def _check_columns(entries: list[Entry]) -> Iterator[Finding]:
    """Names that a question of several columns gives to one of them."""
    named = {entry.part.variable: entry for entry in entries if entry.part.variable}
    for entry in entries:
        for piece in PIECES.get(entry.part.kind, ()):
            other = named.get(entry.part.variable + piece.suffix) if piece.suffix and entry.part.variable else None
            if other is None:
                continue
            name = other.part.variable
            message = f"“{name}” is also the name of a column that {entry.part.variable} gives in the data set."
            mend = "Give it another name; else one of the two columns gets one."
            yield Finding("doubt", "double_column", message, mend, other.source, other.part.id, "variable")


def _check_part(script: Script, entries: list[Entry], entry: Entry, level_above: int) -> Iterator[Finding]:
    line, part = entry.source, entry.part
    kind = KINDS.get(part.kind)
    if kind is None:
        hint = nearest(part.kind, KINDS)
        mend = f"Did you mean {hint}?" if hint else "Kinds: " + ", ".join(KINDS) + "."
        yield _error(line, part, "kind", "unknown_kind", f"There is no kind “{part.kind}”.", mend)
        return
    if part.level > level_above + 1:
        message = "This line is deeper than the section or roster above it allows."
        yield _error(line, part, "level", "level_jump", message, f"Level {level_above + 1} at most.")
    yield from _check_list_of(script, line, part, kind)
    yield from _check_answer(line, part)
    yield from _check_unit_of(script, line, part)
    yield from _check_grid(entries, entry)
    yield from _check_read_back(entries, entry)
    yield from _unused(line, part, kind)
    if not kind.derives:
        yield from _check_texts(script, line, part)
        yield from _check_values(script, line, part)


def _check_answer(line: int, part: Part) -> Iterator[Finding]:
    for special in part.special_answers:
        if special not in SPECIAL_ANSWERS:
            message = f"“{special}” is no special answer."
            yield _error(line, part, "special_answers", "unknown_special", message, "dont_know, refused")
    if part.least is not None and part.most is not None and part.least > part.most:
        yield _error(line, part, "least", "least_above_most", "The least number is above the most.", "Swap them.")
    if part.order not in ("", "fixed", "random"):
        yield _error(line, part, "order", "unknown_order", f"There is no order “{part.order}”.", "fixed or random")


def _check_list_of(script: Script, line: int, part: Part, kind: Kind) -> Iterator[Finding]:
    if not kind.uses_codes and part.kind != "grid":
        return
    names = [entry.name for entry in script.code_lists]
    if not part.code_list:
        message = "A code list is missing."
        yield _error(line, part, "code_list", "no_code_list", message, "Choose one or write a new one.")
    elif part.code_list not in names:
        hint = nearest(part.code_list, names)
        mend = f"Did you mean {hint}?" if hint else f"Write the list {part.code_list}."
        yield _error(line, part, "code_list", "unknown_code_list", f"There is no code list “{part.code_list}”.", mend)


def check_registers(script: Script, registers: Iterable[str]) -> Iterator[Finding]:
    """Questions that pick from a register which the study, whose registers these are, does not have."""
    known = [name for name in registers if name]
    for line, part in enumerate(script.parts if known else ()):
        if (part.kind == "unit" or is_of_units(part)) and part.register_name and part.register_name not in known:
            hint = nearest(part.register_name, known)
            mend = f"Did you mean {hint}?" if hint else f"There are: {', '.join(known)}."
            message = f"The study has no kind of unit called “{part.register_name}”."
            yield _error(line, part, "register_name", "unknown_register", message, mend)


def _check_unit_of(script: Script, line: int, part: Part) -> Iterator[Finding]:
    if part.kind == "unit" and not part.register_name:
        yield _error(
            line, part, "register_name", "no_register", "It does not say which register.", "Name the register."
        )
    if part.kind == "quantity" and not part.unit:
        yield _error(line, part, "unit", "no_unit", "A quantity needs a unit.", "Name a unit list, or one unit: kg.")
    if part.kind not in ("quantity", "instrument") or not part.unit:
        return
    units = units_of(script, part)
    if not units:
        names = [entry.name for entry in script.unit_lists]
        own = [u.unit for entry in script.unit_lists for u in entry.units]
        hint = nearest(part.unit, [*names, *own, *STANDARD])
        mend = f"Did you mean {hint}?" if hint else f"There are: {', '.join([*names, *own, *STANDARD])}."
        yield _error(line, part, "unit", "unknown_unit_list", f"There is no unit “{part.unit}”.", mend)
    elif part.kind == "instrument" and len(units) > 1:
        message = f"An instrument shows one unit; {part.unit} has {len(units)}."
        yield _error(line, part, "unit", "many_units", message, f"Name one of them: {units[0].unit}.")


def _check_grid(entries: list[Entry], entry: Entry) -> Iterator[Finding]:
    if entry.parent is None or entries[entry.parent].part.kind != "grid":
        return
    grid, part = entries[entry.parent].part, entry.part
    if part.kind not in ("single answer", "multiple answer"):
        message = f"A grid asks single and multiple answers; this is a {part.kind}."
        yield _error(entry.source, part, "kind", "not_in_grid", message, "Move it out of the grid.")
    elif part.code_list != grid.code_list:
        message = f"The grid offers {grid.code_list}, this question {part.code_list}."
        yield _error(entry.source, part, "code_list", "other_list", message, "Leave it empty: it takes the grid’s.")


def _check_read_back(entries: list[Entry], entry: Entry) -> Iterator[Finding]:
    part = entry.part
    if part.kind != "read-back":
        return
    if not part.reads_back:
        message = "It does not say what is read back."
        yield _error(entry.source, part, "reads_back", "no_reads_back", message, "Name an earlier question.")
        return
    source = next((e.part for e in entries if e.part.variable == part.reads_back), None)
    if source is not None and source.kind in ("section", "roster", "statement", "grid", "read-back"):
        message = f"“{part.reads_back}” has no answer to read back."
        yield _error(entry.source, part, "reads_back", "wrong_reads_back", message, "Name an earlier question.")


_HEADINGS = {"register_name": "Register"}


def is_of_units(part: Part) -> bool:
    """Whether a roster has a row for each unit under one; it may say of which register those are."""
    return part.kind == "roster" and REPEATS["units"].match(part.repeated) is not None


def _unused(line: int, part: Part, kind: Kind) -> Iterator[Finding]:
    """Cells that say nothing for this kind: nothing a user wrote is passed over in silence."""
    limited = kind.is_number or kind.type in ("text", "codes")
    means = {
        "derived": kind.derives,
        "repeated": part.kind == "roster",
        "code_filter": kind.uses_codes,
        "code_list": kind.uses_codes or part.kind == "grid",
        "default": kind.takes_answer,
        "answer_needed": kind.takes_answer,
        "special_answers": kind.takes_answer,
        "mask": kind.type == "text",
        "unit": part.kind in ("quantity", "instrument"),
        "least": limited,
        "most": limited,
        "fills": kind.takes_answer or kind.derives,
        "reads_back": part.kind == "read-back",
        "register_name": part.kind == "unit" or is_of_units(part),
    }
    for field, has_meaning in means.items():
        if not has_meaning and getattr(part, field) not in ("", [], None, "no"):
            words = _HEADINGS.get(field, field.replace("_", " ").capitalize())
            message = f"“{words}” says nothing for a {part.kind}."
            yield Finding("doubt", "unused", message, "Remove it, or change the kind.", line, part.id, field)


def _check_values(script: Script, line: int, part: Part) -> Iterator[Finding]:
    """Values in braces that a translation lacks or has too many of."""
    first = script.languages[0]
    texts = [("wording", part.wording), ("instruction", part.instruction)]
    for strength in ("must_hold", "should_hold"):
        texts += [(f"{strength}.{n}.message", check.message) for n, check in enumerate(getattr(part, strength))]
    for field, said in texts:
        for lang in said.keys() & set(script.languages) - {first}:
            values = compare_values(said.get(first, ""), said[lang])
            for word, names in (("lacks", values.lost), ("has, and the source lacks,", values.added)):
                if names:
                    message = f"The text in {lang} {word} {', '.join(f'{{{name}}}' for name in names)}."
                    mend = "Put it in where it belongs." if word == "lacks" else "Take it out, or put it in both."
                    yield Finding("doubt", "value_lost", message, mend, line, part.id, f"{field}.{lang}")


def _check_texts(script: Script, line: int, part: Part) -> Iterator[Finding]:
    for lang in script.languages:
        if part.wording.get(lang, "").strip():
            continue
        if lang == script.languages[0]:
            yield _error(line, part, f"wording.{lang}", "no_wording", "The wording is missing.", "Write what is asked.")
        else:
            message = f"Not yet worded in {lang}; {script.languages[0]} will be shown."
            yield Finding("doubt", "not_translated", message, "Translate it.", line, part.id, f"wording.{lang}")
