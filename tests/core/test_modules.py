"""The ready modules are worked examples: each compiles, is proved, is rehearsed, is said in all its languages."""

from __future__ import annotations

import pytest

from skavo.core.modules.module import Module, script_of
from skavo.core.modules.shelf import READY
from skavo.core.questionnaire.compile import compile_script


@pytest.mark.parametrize("module", READY, ids=lambda m: m.name)
def test_it_compiles_without_a_doubt(module: Module) -> None:
    compiled = compile_script(script_of(module))
    assert [(f.code, f.part_id, f.field, f.message, f.mend) for f in compiled.findings] == []
