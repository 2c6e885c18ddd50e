"""What the checker says of a kept script: said once for one content, and never of another one."""

from __future__ import annotations

import pytest

from skavo.core.questionnaire.compile import Compiled, compile_script, content_hash
from skavo.core.questionnaire.hints import Standard, hints
from skavo.core.questionnaire.known import Known
from skavo.core.questionnaire.script import Script, write_script
from skavo.services import verdicts
from skavo.services.verdicts import MOST_SCRIPTS, verdict_on
from tests.samples import part, script


def test_it_says_what_the_checker_says() -> None:
    good, bad = script(part(1, "text", "fine")), script(part(1, "text", "a", asked_when="b is 1"))
    compiled = compile_script(good)
    assert compiled.release is not None
    assert verdict_on(write_script(good)).release_hash == content_hash(compiled.release)
    verdict = verdict_on(write_script(bad))
    assert (verdict.release_hash, verdict.errors) == (None, 1)
    assert list(verdict.findings) == [*compile_script(bad).findings, *hints(bad, Standard())]


def test_one_content_is_checked_once_and_a_changed_one_anew(monkeypatch: pytest.MonkeyPatch) -> None:
    asked = []

    def counted(sample: Script, known: Known) -> Compiled:
        asked.append(sample)
        return compile_script(sample, known)

    monkeypatch.setattr(verdicts, "compile_script", counted)
    sample = script(part(1, "text", "counted_once"))
    for _ in range(3):
        verdict_on(write_script(sample))
    assert len(asked) == 1
    sample.parts[0].asked_when = "nothing is yes"
    assert verdict_on(write_script(sample)).errors == 1
    assert len(asked) == 2


def test_no_more_are_remembered_than_there_is_room_for() -> None:
    for number in range(MOST_SCRIPTS + 5):
        verdict_on(write_script(script(part(1, "text", f"v{number}"))))
    assert len(verdicts._told) == MOST_SCRIPTS
