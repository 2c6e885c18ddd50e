"""What the newest proof says of a script, as findings; only while the script is the one that was proved."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.script import Script


def proof_findings(script: Script, proof: dict[str, Any], release_hash: str | None) -> Iterator[Finding]:
    """Questions that are never asked or lead nowhere, checks that cannot be met or never fail, checks that contradict."""
    if release_hash is None or proof.get("hash") != release_hash:
        return
    lines = {part.variable: (line, part.id) for line, part in enumerate(script.parts) if part.variable}

    def doubt(code: str, variable: str, field: str, message: str, mend: str) -> Finding:
        line, part_id = lines.get(variable, (None, ""))
        return Finding("doubt", code, message, mend, line, part_id, field)

    for told in proof["unreachable"]:
        yield doubt(
            "never_asked",
            told["variable"],
            "asked_when",
            f"This is never asked: {told['why']}",
            "Look at the rules it names.",
        )
    for told in proof["dead_ends"]:
        yield doubt(
            "dead_end",
            told["variable"],
            "asked_when",
            f"From here no interview goes on: {told['why']}",
            "Look at the rules it names.",
        )
    for check in proof["checks"]:
        if check["verdict"] in ("never fails", "never met"):
            message = f"The check {check['rule']} {check['verdict']}: {check['why']}"
            yield doubt(
                check["verdict"].replace(" ", "_"), check["variable"], "must_hold", message, "Change or remove it."
            )
    for pair in proof["contradictions"]:
        message = f"{pair['first_rule']} and {pair['second_rule']} (at {pair['second']}) never hold together."
        yield doubt("contradiction", pair["first"], "must_hold", message, "Change one of them.")
