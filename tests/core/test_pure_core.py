"""What the phone loads runs on the standard library alone."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

SOURCE = Path(__file__).resolve().parents[2] / "src"


def test_the_engine_imports_without_any_package_installed() -> None:
    program = (
        f"import sys; sys.path.insert(0, {str(SOURCE)!r}); "
        "import skavo.core.interview.session, skavo.core.visits.day; print(len(sys.modules))"
    )
    done = subprocess.run([sys.executable, "-S", "-I", "-c", program], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
