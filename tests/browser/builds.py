"""A next build of the pages, as an update would bring it: every file that changed has a new name."""

from __future__ import annotations

import re
import shutil
from pathlib import Path

MARK = "<!-- the next build -->"


def next_build(built: Path, target: Path) -> Path:
    """Copy `built` to `target` with another engine, another worker and another page; return `target`.

    The engine's folder and all scripts get new names, so that nothing of the former build answers to the new one.
    """
    shutil.copytree(built, target)
    (engine,) = (target / "field" / "engine").iterdir()
    names = {engine.name: engine.name[::-1]}
    for script in (target / "field" / "assets").glob("*.js"):
        stem, _, digest = script.stem.rpartition("-")
        names[script.stem] = f"{stem}-{digest[::-1]}x"
    engine.rename(engine.with_name(names[engine.name]))
    for script in list((target / "field" / "assets").glob("*.js")):
        script.rename(script.with_name(f"{names[script.stem]}.js"))
    pattern = re.compile("|".join(re.escape(name) for name in sorted(names, key=len, reverse=True)))
    for page in [*target.glob("*.html"), *(target / "field").rglob("*.js")]:
        text = page.read_text(encoding="utf-8")
        page.write_text(pattern.sub(lambda found: names[found[0]], text), encoding="utf-8")
    page = target / "field.html"
    page.write_text(page.read_text(encoding="utf-8").replace("</body>", f"{MARK}</body>"), encoding="utf-8")
    worker = target / "field" / "sw.js"
    text = worker.read_text(encoding="utf-8")
    changed = re.sub(r'(["`])([0-9a-f]{32})(["`])', lambda m: f"{m[1]}{m[2][::-1]}{m[3]}", text)
    assert changed != text, "the page's revision was not found in the service worker"
    worker.write_text(changed, encoding="utf-8")
    return target
