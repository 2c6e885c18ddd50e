"""The ready modules are worked examples: each compiles, is proved, is rehearsed, is said in all its languages."""

from __future__ import annotations

from datetime import UTC, datetime

import pytest

from skavo.core.modules.module import Module, script_of
from skavo.core.modules.shelf import READY
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.graft import graft
from skavo.core.questionnaire.script import Script
from skavo.core.rehearsal.proof.prove import prove
from skavo.core.rehearsal.rehearse import rehearse
from tests.samples import release_of

NOW = datetime(2027, 3, 14, 10, tzinfo=UTC)


@pytest.mark.parametrize("module", READY, ids=lambda m: m.name)
def test_it_compiles_without_a_doubt(module: Module) -> None:
    compiled = compile_script(script_of(module))
    assert [(f.code, f.part_id, f.field, f.message, f.mend) for f in compiled.findings] == []


@pytest.mark.parametrize("module", READY, ids=lambda m: m.name)
def test_the_proof_finds_nothing_wrong(module: Module) -> None:
    proof = prove(release_of(script_of(module)), NOW)
    assert not proof.is_faulty
    assert (proof.unreachable, proof.undecided, proof.dead_ends, proof.contradictions) == ([], [], [], [])
    # A household of nobody cannot be; everything else can.
    assert [u.branch for u in proof.unvisited] == (["person has no rows"] if module.name == "people" else [])
    assert {check.verdict for check in proof.checks} <= {"sound"}


@pytest.mark.parametrize("module", READY, ids=lambda m: m.name)
def test_made_up_interviews_reach_every_question(module: Module) -> None:
    rehearsal = rehearse(release_of(script_of(module)), 80, 7, now=NOW)
    assert rehearsal.made == 80 and rehearsal.unmet == []
    assert rehearsal.never_asked == []


@pytest.mark.parametrize("module", READY, ids=lambda m: m.name)
def test_everything_is_said_in_all_its_languages(module: Module) -> None:
    wanted = set(module.fragment.languages)
    texts = [module.title, module.measures, *[c.label for e in module.fragment.code_lists for c in e.codes]]
    for part in module.fragment.parts:
        texts += [part.wording] if part.kind != "derived value" else []
        texts += [part.instruction] if part.instruction else []
        texts += [check.message for check in [*part.must_hold, *part.should_hold]]
    assert [text for text in texts if {lang for lang, said in text.items() if said.strip()} != wanted] == []
    assert module.source and module.tested


def test_all_of_them_together_are_one_questionnaire() -> None:
    whole = Script(name="all", title={"en": "All"}, languages=["en", "fr", "ar"])
    for module in READY:
        whole = graft(whole, module.fragment, len(whole.parts), 1, prefix=module.name[:3]).script
    assert [(f.code, f.message) for f in compile_script(whole).findings] == []
    again = graft(whole, READY[2].fragment, len(whole.parts), 1, prefix="second")
    assert compile_script(again.script).errors == []
    assert again.renamed["age"] == "second_age"


def test_names_tell_them_apart() -> None:
    assert len({module.name for module in READY}) == len(READY)
