"""The formats of releases and of interviews, with the steps that bring older ones forward. Standard library only."""

from __future__ import annotations

from copy import deepcopy
from typing import Any

from skavo.core.documents import Document, Format

_ADDED_TO_PARTS: dict[str, Any] = {
    "base_unit": "", "units": [], "reads_back": None, "register": "", "read_aloud": True, "order": "fixed", "media": [],
}  # fmt: skip


def _with_every_kind(release: Document) -> Document:
    """Version 2 has parts of every kind: quantities, read-backs, register units, media, orders."""
    lists = {name: [{"media": [], **code} for code in codes] for name, codes in deepcopy(release["code_lists"]).items()}
    parts = [{**deepcopy(_ADDED_TO_PARTS), **part} for part in release["parts"]]
    return {**release, "code_lists": lists, "parts": parts}


def _codes_as_trees(release: Document) -> Document:
    """Version 3 has trees where `includes` named plain codes, texts of skip rules, and lists as defaults of many codes."""
    parts = []
    for part in release["parts"]:
        default = part["default"]
        if part["type"] == "codes" and default is not None and default[:2] == ["literal", "code"]:
            part = {**part, "default": ["literal", "codes", [default[2]]]}
        parts.append({"asked_when_text": "", **part})
    return {**release, "parts": _includes_trees(parts)}


def _includes_trees(piece: Any) -> Any:
    if isinstance(piece, dict):
        return {key: _includes_trees(value) for key, value in piece.items()}
    if not isinstance(piece, list):
        return piece
    if len(piece) == 4 and piece[0] == "includes" and isinstance(piece[1], list):
        codes = [["literal", "code", code] if isinstance(code, str) else code for code in piece[3]]
        return ["includes", _includes_trees(piece[1]), piece[2], codes]
    return [_includes_trees(value) for value in piece]


def _with_named_release(interview: Document) -> Document:
    """Version 2 names its release by identity, and what it corrects: the same content released twice is two releases."""
    return {**interview, "release": "", "release_hash": interview["release"], "basis": ""}


def _with_remarks(interview: Document) -> Document:
    """Version 3 has what the enumerator remarked at questions, by path."""
    return {**interview, "remarks": {}}


def _with_visit(interview: Document) -> Document:
    """Version 4 says on which visit it was made, and what was known of the unit and of the earlier round."""
    return {**interview, "visit": "", "known": {"unit": None, "units": {}, "earlier": {}}}


def _with_unit(interview: Document) -> Document:
    """Version 5 may be about a unit of a register that was changed or made, instead of an interview."""
    return {**interview, "about": None}


RELEASE = Format("release", (_with_every_kind, _codes_as_trees))
INTERVIEW = Format("interview", (_with_named_release, _with_remarks, _with_visit, _with_unit), unmarked=1)
