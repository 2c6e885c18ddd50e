"""What the checker says of scripts as they are kept, remembered by their content: many pages ask for the same one."""

from __future__ import annotations

import hashlib
import json
from collections import OrderedDict
from dataclasses import asdict, dataclass, replace
from threading import Lock
from typing import Any

from skavo.core.lists.hanging import Hanging, hanging
from skavo.core.questionnaire.compile import compile_script, content_hash
from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.hints import Standard, hints
from skavo.core.questionnaire.known import NOTHING_KNOWN, Known
from skavo.core.questionnaire.script import Script, read_script

MOST_SCRIPTS = 64


@dataclass(frozen=True)
class Verdict:
    """`release_hash` is that of the script compiled, None while it has errors."""

    findings: tuple[Finding, ...]
    release_hash: str | None
    hanging: tuple[Hanging, ...]

    @property
    def errors(self) -> int:
        return sum(1 for f in self.findings if f.severity == "error")


_told: OrderedDict[str, Verdict] = OrderedDict()
_lock = Lock()


def verdict_on(
    document: dict[str, Any],
    known: Known = NOTHING_KNOWN,
    standard: Standard | None = None,
    script: Script | None = None,
) -> Verdict:
    """The verdict on a script as it is kept, hints included.

    `known` is what it may speak of and `standard` its study's standard; `script` is the same script read already.
    """
    shelf = {name: asdict(file) for name, file in (known.media or {}).items()}
    wanted = standard or Standard()
    around = [document, shelf, dict(known.registers), dict(known.codes), wanted.model_dump()]
    key = hashlib.sha256(json.dumps(around, sort_keys=True).encode()).hexdigest()
    with _lock:
        found = _told.get(key)
        if found is not None:
            _told.move_to_end(key)
            return found
    script = script or read_script(document)
    compiled = compile_script(script, replace(known, media=known.media or {}))
    digest = content_hash(compiled.release) if compiled.release else None
    made = Verdict((*compiled.findings, *hints(script, wanted)), digest, tuple(hanging(script)))
    with _lock:
        _told[key] = made
        while len(_told) > MOST_SCRIPTS:
            _told.popitem(last=False)
    return made
