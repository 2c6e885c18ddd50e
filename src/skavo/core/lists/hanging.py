"""Which code list hangs under which: the wards of an island, the streets of a ward.

A list says it by an attribute that holds codes of the other list. Which attribute that is, a code filter tells
(`ward.island = island`); before there is a question with one, an attribute called like the other list does.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.script import CodeList, Part, Script
from skavo.core.rules.faults import RuleSyntaxError
from skavo.core.rules.syntax import Node, parse_rule


@dataclass(frozen=True)
class Hanging:
    """The codes of `code_list` stand under those of `under` that their `attribute` names."""

    code_list: str
    attribute: str
    under: str


@dataclass(frozen=True)
class FilterLink:
    """A filter that lets through the codes whose `attribute` is the answer to `variable`, and says nothing else."""

    attribute: str
    variable: str


def read_link(rule: str, code_list: str) -> FilterLink | None:
    """The link that a filter over `code_list` makes, None where it says something else, or more."""
    try:
        node = parse_rule(rule)
    except RuleSyntaxError:
        return None
    return _link(node, code_list) if node.op == "is_" else None


def _link(node: Node, code_list: str) -> FilterLink | None:
    for one, other in (node.args, node.args[::-1]):
        if one.op == "dotted" and other.op == "name" and one.args[0].text == code_list:
            return FilterLink(one.args[1].text, other.text)
    return None


def _links_within(rule: str, code_list: str) -> Iterator[FilterLink]:
    """All links that hold wherever a filter lets a code through: those joined by `and`."""
    try:
        ahead = [parse_rule(rule)] if rule.strip() else []
    except RuleSyntaxError:
        return
    while ahead:
        node = ahead.pop()
        if node.op == "and_":
            ahead += node.args
        elif node.op == "is_" and (link := _link(node, code_list)) is not None:
            yield link


def hanging(script: Script) -> list[Hanging]:
    """How the lists of a script hang together: at most one link for each list, and never in a ring."""
    lists = {entry.name: entry for entry in script.code_lists}
    found: dict[str, Hanging] = {}
    for link in [*_by_filters(script, lists), *_by_names(lists)]:
        if link.code_list not in found and not _leads_to(found, link.under, link.code_list):
            found[link.code_list] = link
        elif (kept := found.get(link.code_list)) and _leads_to(found, link.under, kept.under):
            # Of two the nearer one: a street's ward rather than its island.
            found[link.code_list] = link
    return [found[name] for name in lists if name in found]


def _by_filters(script: Script, lists: dict[str, CodeList]) -> Iterator[Hanging]:
    asked: dict[str, Part] = {part.variable: part for part in script.parts if part.kind == "single answer"}
    for part in script.parts:
        for link in _links_within(part.code_filter, part.code_list):
            above = asked[link.variable].code_list if link.variable in asked else ""
            if above in lists and part.code_list in lists and above != part.code_list:
                yield Hanging(part.code_list, link.attribute, above)


def _by_names(lists: dict[str, CodeList]) -> Iterator[Hanging]:
    for entry in lists.values():
        for attribute in dict.fromkeys(a for code in entry.codes for a in code.attributes):
            if attribute in lists and attribute != entry.name:
                yield Hanging(entry.name, attribute, attribute)


def _leads_to(found: dict[str, Hanging], name: str, wanted: str) -> bool:
    """Whether `wanted` is `name` or stands above it."""
    while name != wanted and name in found:
        name = found[name].under
    return name == wanted


def check_hanging(script: Script) -> Iterator[Finding]:
    """Doubts about codes that say they stand under a code which is not there, or under none."""
    lists = {entry.name: entry for entry in script.code_lists}
    for link in hanging(script):
        above = {code.code for code in lists[link.under].codes}
        lost = [c for c in lists[link.code_list].codes if c.attributes.get(link.attribute, "") not in above]
        if not lost or not above:
            continue
        first, more = lost[0], len(lost) - 1
        under = first.attributes.get(link.attribute, "")
        where = f"under “{under}”, which is no code of {link.under}" if under else f"under no code of {link.under}"
        others = f", and {more:,} more of this list" if more else ""
        yield Finding(
            "doubt", "hangs_nowhere", f"{first.code} stands {where}{others}.",
            f"Say where it belongs in its attribute {link.attribute}, or move it in the tree.",
            code_list=link.code_list, item=first.code,
        )  # fmt: skip
