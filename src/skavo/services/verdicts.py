"""What the checker says of scripts as they are kept, remembered by their content: many pages ask for the same one."""

from __future__ import annotations

import hashlib
import json
from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import asdict, dataclass
from threading import Lock
from typing import Any

from skavo.core.lists.hanging import Hanging, hanging
from skavo.core.media.shelf import MediaFile
from skavo.core.questionnaire.compile import compile_script, content_hash
from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.hints import Standard, hints
from skavo.core.questionnaire.known import Known
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


_known: OrderedDict[str, Verdict] = OrderedDict()
_lock = Lock()


def verdict_on(
    document: dict[str, Any],
    media: Mapping[str, MediaFile] | None = None,
    standard: Standard | None = None,
    script: Script | None = None,
) -> Verdict:
    """The verdict on a script as it is kept, hints included.

    `media` is the shelf of its study and `standard` its standard; `script` is the same script read already.
    """
    shelf = {name: asdict(file) for name, file in (media or {}).items()}
    wanted = standard or Standard()
    key = hashlib.sha256(json.dumps([document, shelf, wanted.model_dump()], sort_keys=True).encode()).hexdigest()
    with _lock:
        found = _known.get(key)
        if found is not None:
            _known.move_to_end(key)
            return found
    script = script or read_script(document)
    compiled = compile_script(script, Known(media=media or {}))
    digest = content_hash(compiled.release) if compiled.release else None
    made = Verdict((*compiled.findings, *hints(script, wanted)), digest, tuple(hanging(script)))
    with _lock:
        _known[key] = made
        while len(_known) > MOST_SCRIPTS:
            _known.popitem(last=False)
    return made
