"""Taking a module into a script, and bringing what was taken up to date with it later."""

from __future__ import annotations

import re

from skavo.core.modules.module import Module
from skavo.core.questionnaire.graft import Fragment, Grafted, graft
from skavo.core.questionnaire.rename import rename_variables
from skavo.core.questionnaire.script import CodeList, Part, Script, UnitList


def take(script: Script, module: Module, at: int, level: int) -> Grafted:
    """The module's lines put in before line `at`; each remembers which line of which module it is."""
    parts = [
        part.model_copy(update={"origin": f"{module.name}/{_key(part, place)}"})
        for place, part in enumerate(module.fragment.parts)
    ]
    marked = module.fragment.model_copy(update={"parts": parts})
    return graft(script, marked, at, level, prefix=module.name)


def modules_in(script: Script) -> list[str]:
    """The names of the modules that lines of a script were taken from, in their order."""
    return list(dict.fromkeys(p.origin.split("/")[0] for p in script.parts if "/" in p.origin))


def bring_up_to_date(script: Script, module: Module) -> Script:
    """The script with the lines of `module` as the module has them now.

    Lines keep their identity, their variable and their level; what the module has more comes in behind the line that
    it follows there, and what it no longer has is taken out. Codes and labels of lists that carry the same name follow
    too; codes that were added in the script stay.
    """
    mine = {part.origin: part for part in script.parts if part.origin.startswith(f"{module.name}/")}
    if not mine:
        return script
    keyed = [(f"{module.name}/{_key(part, place)}", part) for place, part in enumerate(module.fragment.parts)]
    module = _with_lists_as_called(module, keyed, mine)
    keyed = [(origin, part) for (origin, _), part in zip(keyed, module.fragment.parts, strict=True)]
    renamed = _as_called(module, keyed, mine)
    wanted = dict(zip((origin for origin, _ in keyed), renamed, strict=True))
    parts: list[Part] = []
    for part in script.parts:
        if part.origin not in mine:
            parts.append(part)
        elif part.origin in wanted:
            kept = {"id": part.id, "variable": part.variable, "level": part.level, "origin": part.origin}
            parts.append(wanted[part.origin].model_copy(update=kept))
    after = script.model_copy(
        update={
            "parts": parts,
            "code_lists": _lists(script.code_lists, module.fragment.code_lists),
            "unit_lists": _units(script.unit_lists, module.fragment.unit_lists),
        }
    )
    return _with_new(after, module, keyed, renamed)


def _key(part: Part, place: int) -> str:
    """What tells a line apart within its module for good: its variable, else its first wording."""
    return part.variable or next((w for w in part.wording.values() if w), "")[:120] or f"line {place}"


def _with_lists_as_called(module: Module, keyed: list[tuple[str, Part]], mine: dict[str, Part]) -> Module:
    """The module with its code lists and units under the names that they came to have in the script."""
    lists = {part.code_list: mine[o].code_list for o, part in keyed if o in mine and part.code_list}
    units = {part.unit: mine[o].unit for o, part in keyed if o in mine and part.unit}

    def called(part: Part) -> Part:
        name = lists.get(part.code_list, part.code_list)
        filtered = re.sub(rf"\b{re.escape(part.code_list)}\.", f"{name}.", part.code_filter) if part.code_list else ""
        unit = units.get(part.unit, part.unit)
        return part.model_copy(update={"code_list": name, "unit": unit, "code_filter": filtered or part.code_filter})

    fragment = module.fragment.model_copy(
        update={
            "parts": [called(part) for part in module.fragment.parts],
            "code_lists": [
                e.model_copy(update={"name": lists.get(e.name, e.name)}) for e in module.fragment.code_lists
            ],
            "unit_lists": [
                e.model_copy(update={"name": units.get(e.name, e.name)}) for e in module.fragment.unit_lists
            ],
        }
    )
    return module.model_copy(update={"fragment": fragment})


def _as_called(module: Module, keyed: list[tuple[str, Part]], mine: dict[str, Part]) -> list[Part]:
    """The module's lines with the variables that they have in the script."""
    alone = Script(
        languages=module.fragment.languages,
        parts=[part.model_copy(deep=True, update={"id": origin}) for origin, part in keyed],
        code_lists=module.fragment.code_lists,
        unit_lists=module.fragment.unit_lists,
    )
    names = {o: mine[o].variable for o, part in keyed if o in mine and mine[o].variable not in ("", part.variable)}
    return rename_variables(alone, names).script.parts if names else alone.parts


def _with_new(script: Script, module: Module, keyed: list[tuple[str, Part]], renamed: list[Part]) -> Script:
    for place, (origin, part) in enumerate(keyed):
        if any(p.origin == origin for p in script.parts):
            continue
        before = next((o for o, _ in reversed(keyed[:place]) if any(p.origin == o for p in script.parts)), None)
        at = next((i for i, p in enumerate(script.parts) if p.origin == before), -1)
        shift = script.parts[at].level - dict(keyed)[before].level if before is not None else 0
        line = renamed[place].model_copy(update={"origin": origin})
        fragment = Fragment(languages=module.fragment.languages, parts=[line])
        script = graft(script, fragment, at + 1, max(part.level + shift, 1), prefix=module.name).script
    return script


def _lists(present: list[CodeList], module: list[CodeList]) -> list[CodeList]:
    by_name = {entry.name: entry for entry in module}
    return [_merged(entry, by_name[entry.name]) if entry.name in by_name else entry for entry in present] + [
        entry for entry in module if entry.name not in {known.name for known in present}
    ]


def _merged(present: CodeList, module: CodeList) -> CodeList:
    known = {code.code for code in module.codes}
    return CodeList(name=present.name, codes=[*module.codes, *[c for c in present.codes if c.code not in known]])


def _units(present: list[UnitList], module: list[UnitList]) -> list[UnitList]:
    known = {entry.name for entry in present}
    return [*present, *[entry for entry in module if entry.name not in known]]
