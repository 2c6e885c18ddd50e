"""Script to release: every rule checked and turned into a typed tree.

A release is plain JSON, so that the phone can load it without any of this. Its hash is that of its canonical JSON
(sorted keys, no spaces, UTF-8), so that the same questionnaire always has the same hash.
"""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass
from typing import Any

from skavo.core.interview.formats import RELEASE
from skavo.core.media.shelf import check_media, media_of_release
from skavo.core.questionnaire.check_filters import check_filters
from skavo.core.questionnaire.compile_part import PartCompiler
from skavo.core.questionnaire.cycles import name_cycles
from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.known import NOTHING_KNOWN, Known
from skavo.core.questionnaire.outline import build_outline
from skavo.core.questionnaire.script import NotedByPhone, Script, Texts
from skavo.core.questionnaire.structure import check_registers, check_structure


@dataclass(frozen=True)
class Compiled:
    """`release` is None while there are errors among the findings."""

    findings: list[Finding]
    release: dict[str, Any] | None

    @property
    def errors(self) -> list[Finding]:
        return [f for f in self.findings if f.severity == "error"]


def compile_script(script: Script, known: Known = NOTHING_KNOWN) -> Compiled:
    """Check every line of `script` and compile it; all faults are found, not only the first.

    A line that was compiled before, and that nothing it refers to has changed since, is not checked again.
    """
    entries = build_outline(script)
    compiler = PartCompiler(script, entries, known)
    parts = [compiler.compile_entry(entry) for entry in entries]
    rules = name_cycles(compiler.findings, entries, compiler.symbols)
    found = [*check_structure(script, entries), *rules, *compiler.check_units(), *check_filters(script, entries, parts)]
    found += check_registers(script, known.registers)
    if known.media is not None:
        found += check_media(script, frozenset(known.media))
    findings = sorted(found, key=lambda f: (f.line is None, f.line or 0))
    if any(f.severity == "error" for f in findings):
        return Compiled(findings, None)
    lists = {
        entry.name: [code.model_dump(mode="json") for code in entry.codes] for entry in script.code_lists if entry.name
    }
    spoken = json.dumps(parts)
    # Of the registers' lists only those that a rule or a wording speaks of.
    lists |= {name: [dict(code) for code in codes] for name, codes in known.codes.items() if f'"{name}"' in spoken}
    release = {
        "name": script.name,
        "title": script.title,
        "languages": script.languages,
        "code_lists": lists,
        "parts": parts,
    }
    words = {tag: said for tag in script.languages if (said := _said(script.phone_words.get(tag, {})))}
    media = media_of_release(script, known.media) if known.media else {}
    # Left out where there are none: a phone that knows nothing of them does as it would anyway.
    more = {"words": words, "media": media, "paradata": _paradata(script)}
    return Compiled(findings, RELEASE.write({**release, **{key: value for key, value in more.items() if value}}))


def _paradata(script: Script) -> dict[str, bool]:
    """What is chosen, where it is not what a phone notes anyway."""
    chosen = script.paradata.model_dump(exclude={"told_by"})
    return chosen if chosen != NotedByPhone().model_dump(exclude={"told_by"}) else {}


def _said(words: Texts) -> Texts:
    return {key: text for key, text in words.items() if text.strip()}


def content_hash(release: dict[str, Any]) -> str:
    """SHA-256 of the release's canonical JSON, in hexadecimal."""
    canonical = json.dumps(release, sort_keys=True, separators=(",", ":"), ensure_ascii=False)
    return hashlib.sha256(canonical.encode("utf-8")).hexdigest()
