"""Rules in the words of a paper questionnaire: answers go by their numbers, codes by their labels."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from skavo.core.dataset.layout import label_in
from skavo.core.interview.release import Release
from skavo.core.paper.words import say
from skavo.core.rules.state import Tree

_COMPARED = {"is": "r_is", "is_not": "r_is_not", "gt": "r_gt", "ge": "r_ge", "lt": "r_lt", "le": "r_le"}
_MOMENTS = {"gt": "r_after", "ge": "r_not_before", "lt": "r_before", "le": "r_not_after"}
_SIGNS = {"add": "+", "subtract": "−", "multiply": "×", "divide": "÷"}
_STATUS = {"answered": "r_answered", "missing": "r_unanswered", "not_known": "r_dont_know", "refused": "r_refused"}


class NoWords(Exception):
    """A rule that can be computed and not said in few words."""


class RuleWords:
    """Says the rules of a release. `numbers` are those of its questions by index; `words` are of words.py."""

    def __init__(self, release: Release, numbers: Mapping[int, int], words: dict[str, str], language: str) -> None:
        self.release, self.numbers, self.words, self.language = release, numbers, words, language

    def say(self, tree: Tree, *otherwise: str) -> str:
        """`tree` in words; where there are none, the first of `otherwise` that is not empty."""
        try:
            return self._rule(tree)
        except NoWords:
            return next((text for text in otherwise if text), "")

    def name_of(self, index: int) -> str:
        """The number of a question, or what something without a number is called."""
        if index in self.numbers:
            return str(self.numbers[index])
        part = self.release.parts[index]
        parent = part.raw["specifies"]
        if parent is not None and parent in self.numbers:
            return str(self.numbers[parent])
        wording = [piece for piece in part.raw["wording"].get(self.language, []) if isinstance(piece, str)]
        return f"“{''.join(wording).strip() or part.variable}”"

    def _say(self, key: str, **values: str) -> str:
        return say(self.words, key, **values)

    def _rule(self, tree: Tree) -> str:
        op = tree[0]
        if op in ("and", "or"):
            return self._say(f"r_{op}", a=self._part(tree[1], op), b=self._part(tree[2], op))
        if op == "not":
            return self._denied(tree[1])
        if op == "variable":
            return self._say("r_is", a=self._value(tree), b=f"“{self.words['yes']}”")
        if op in _COMPARED:
            key = _MOMENTS.get(op, _COMPARED[op]) if self._is_moment(tree[1]) else _COMPARED[op]
            return self._say(key, a=self._value(tree[1]), b=self._value(tree[2], tree[1]))
        if op == "between":
            low, high = (self._value(end, tree[1]) for end in tree[2:])
            return self._say("r_between", a=self._value(tree[1]), b=low, c=high)
        if op in ("one_of", "none_of"):
            items = ", ".join(self._value(item, tree[1]) for item in tree[2])
            plain = {"one_of": "r_is", "none_of": "r_is_not"}[op] if len(tree[2]) == 1 else f"r_{op}"
            return self._say(plain, a=self._value(tree[1]), b=items)
        if op == "includes":
            return self._includes(tree, "r_includes")
        if op == "status" and tree[1] in _STATUS:
            return self._say(_STATUS[tree[1]], a=self.name_of(tree[2]))
        raise NoWords

    def _is_moment(self, tree: Tree) -> bool:
        return tree[0] == "variable" and self.release.parts[tree[1]].kind.type in ("date", "time", "date-time")

    def _part(self, tree: Tree, around: str) -> str:
        said = self._rule(tree)
        return f"({said})" if tree[0] in ("and", "or") and tree[0] != around else said

    def _denied(self, tree: Tree) -> str:
        if tree[0] == "includes":
            return self._includes(tree, "r_includes_not")
        if tree[0] == "is":
            return self._rule(["is_not", *tree[1:]])
        if tree[0] == "variable":
            return self._say("r_is", a=self._value(tree), b=f"“{self.words['no']}”")
        if tree[:2] == ["status", "answered"]:
            return self._rule(["status", "missing", *tree[2:]])
        return self._say("r_not", a=self._rule(tree))

    def _includes(self, tree: Tree, key: str) -> str:
        _, chosen, mode, codes = tree
        word = {"any": "r_or", "all": "r_and"}.get(mode)
        if word is None:
            raise NoWords
        named = [self._value(code, chosen) for code in codes]
        said = named[0]
        for name in named[1:]:
            said = self._say(word, a=said, b=name)
        return self._say(key, a=self._value(chosen), b=said)

    def _value(self, tree: Tree, beside: Tree | None = None) -> str:
        """A value; a code is said by its label in the list of what stands `beside` it."""
        op = tree[0]
        if op == "variable":
            return self.name_of(tree[1])
        if op == "literal":
            return self._literal(tree[1], tree[2], beside)
        if op == "outside" and tree[1] == "today":
            return self.words["today"]
        if op == "call" and tree[1:] == ["year", ["outside", "today"]]:
            return self.words["this_year"]
        if op in _SIGNS:
            return f"{self._value(tree[1])} {_SIGNS[op]} {self._value(tree[2])}"
        raise NoWords

    def _literal(self, kind: str, value: Any, beside: Tree | None) -> str:
        if kind == "yes/no":
            return f"“{self.words['yes' if value else 'no']}”"
        if kind == "code":
            return f"“{self._label(str(value), beside)}”"
        if kind == "text":
            return f"“{value}”"
        if isinstance(value, str):
            return value
        raise NoWords

    def _label(self, code: str, beside: Tree | None) -> str:
        if beside is None or beside[0] != "variable":
            return code
        code_list = self.release.parts[beside[1]].raw["code_list"]
        return label_in(self.release.labels.get(code_list, {}).get(code, {}), self.language, code)
