"""What a screen shows of an interview: texts in the interview's language, codes, findings, the way through."""

from __future__ import annotations

from typing import Any

from skavo.core.interview.answers import write_answer
from skavo.core.interview.broken import Broken
from skavo.core.interview.code_search import FIRST_SHOWN, MOST_AT_A_GLANCE, shown_code
from skavo.core.interview.engine import Engine
from skavo.core.interview.messages import message, word
from skavo.core.interview.order import shuffled_codes
from skavo.core.interview.paths import find_part, path_of
from skavo.core.interview.release import PartSpec
from skavo.core.interview.rows import lowered_count
from skavo.core.interview.screens import (
    Around,
    CodeShown,
    FindingShown,
    OverviewLine,
    Piece,
    ReadBack,
    Step,
)
from skavo.core.interview.shown import show_value
from skavo.core.interview.state import Place
from skavo.core.interview.unit_choices import shown_unit, units_offered
from skavo.core.interview.walk import is_screen
from skavo.core.rules.evaluate import bind
from skavo.core.rules.functions import mask_example
from skavo.core.rules.state import Row


def render_pieces(engine: Engine, texts: dict[str, list[Any]], row: Row) -> list[Piece]:
    """A text as pieces {text, filled}: filled ones come from answers."""
    segments = texts.get(engine.language) or texts.get(engine.release.languages[0]) or []
    pieces: list[Piece] = []
    for segment in segments:
        if isinstance(segment, str):
            pieces.append({"text": segment, "filled": False})
        else:
            value = bind(segment["rule"])(engine, row)
            pieces.append({"text": show_value(engine, segment, value), "filled": True})
    return pieces


def render(engine: Engine, texts: dict[str, list[Any]], row: Row) -> str:
    return "".join(piece["text"] for piece in render_pieces(engine, texts, row))


def steps(engine: Engine) -> list[Place]:
    """The screens of an interview in order: every question and statement that is asked."""
    parts = engine.release.parts
    return [(i, r) for i, r in engine.places() if is_screen(parts[i])]


def describe_finding(engine: Engine, place: Place, broken: Broken) -> FindingShown:
    """A finding as JSON: where, how strict, the message with its values, the paths of all answers concerned."""
    index, row = place
    part = engine.release.parts[index]
    path = path_of(engine.release, index, row)
    reads = {index}
    if broken.check >= 0:
        check = part.checks[broken.check]
        reads |= check.reads.keys()
        text = render(engine, check.message, row) or _told(engine, broken, rule=check.text)
    else:
        unit = f" {part.raw['base_unit']}" if part.raw["base_unit"] else ""
        least, most = (f"{part.raw[limit]}{unit}" for limit in ("least", "most"))
        facts = {"least": least, "most": most, "example": mask_example(part.raw["mask"])}
        text = _told(engine, broken, **facts)
    concerned = [
        path_of(engine.release, i, row[: engine.release.parts[i].depth])
        for i in sorted(reads)
        if engine.release.parts[i].rosters == part.rosters[: engine.release.parts[i].depth]
    ]
    return {
        "code": broken.code,
        "strength": broken.strength,
        "path": path,
        "check": broken.check,
        "rule": part.checks[broken.check].text if broken.check >= 0 else "",
        "message": text,
        "paths": concerned,
        "kept": engine.kept.get(f"{path}#{broken.check}", ""),
    }


def _told(engine: Engine, broken: Broken, **facts: str) -> str:
    return message(broken.code, engine.language, engine.own_words, **facts)


def all_findings(engine: Engine) -> list[FindingShown]:
    """Every finding in the order of asking, the kept ones with their reason."""
    return [
        describe_finding(engine, place, broken) for place in engine.places() for broken in engine.broken.get(place, [])
    ]


def show_step(engine: Engine, path: str) -> Step:
    """All that the screen of one question needs."""
    part, row = find_part(engine.release, path)
    index, raw = part.index, part.raw
    codes, codes_left = _codes(engine, part, row)
    value = engine.values[index].get(row)
    given = engine.answers.get(path) if part.reads_back is not None or (index, row) in engine.wrong else None
    return {
        "path": path,
        "kind": part.kind.name,
        "variable": part.variable,
        "around": around(engine, index, row),
        "wording": render_pieces(engine, raw["wording"], row),
        "read_aloud": raw["read_aloud"],
        "media": raw["media"],
        "instruction": render(engine, raw["instruction"], row),
        "codes": codes,
        "codes_left": codes_left,
        "units": [{"unit": u["unit"], "label": _text_in(engine, u["label"]) or u["unit"]} for u in raw["units"]],
        "reads_back": _reads_back(engine, part, row),
        "value": value if part.reads_back is not None else write_answer(value) if value is not None else given,
        "special": engine.special[index].get(row),
        "special_allowed": raw["special"],
        "needed": part.kind.takes_answer and engine.is_needed(part, row),
        "mask": raw["mask"],
        "example": mask_example(raw["mask"]),
        "most": raw["most"],
        "removable_row": _removable_row(engine, part, row),
        "findings": [describe_finding(engine, (index, row), b) for b in _told_once(engine, part, row)],
    }


def grid_lines(engine: Engine, path: str) -> list[str]:
    """The paths of all lines of the grid that `path` stands in, as far as they are asked; none in no grid."""
    part, row = find_part(engine.release, path)
    grid = engine.release.parts[part.parent] if part.parent is not None else None
    if grid is None or grid.kind.name != "grid":
        return []
    lines = [index for index, asked_row in engine.places() if asked_row == row and index in grid.children]
    return [path_of(engine.release, index, row) for index in lines]


def page_lines(engine: Engine, path: str) -> list[str]:
    """The paths of what stands on one page with `path`, where a page is a section: as far as it is asked, in order.

    A section within it, or another row of a roster, is another page.
    """
    part, row = find_part(engine.release, path)
    way = list(steps(engine))
    if (part.index, row) not in way:
        return [path]
    first = last = way.index((part.index, row))
    home = _home(engine, way[first])
    while first > 0 and _home(engine, way[first - 1]) == home:
        first -= 1
    while last + 1 < len(way) and _home(engine, way[last + 1]) == home:
        last += 1
    return [path_of(engine.release, index, asked_row) for index, asked_row in way[first : last + 1]]


def _home(engine: Engine, place: Place) -> tuple[int | None, Row]:
    """The section or roster that a screen stands in, whatever grid is around it, and the row."""
    index, row = place
    parent = engine.release.parts[index].parent
    while parent is not None and engine.release.parts[parent].kind.name == "grid":
        parent = engine.release.parts[parent].parent
    return parent, row


def _told_once(engine: Engine, part: PartSpec, row: Row) -> list[Broken]:
    """What is broken at one answer; one that does not fit its mask is not told again by a check that asks for the form."""
    broken = engine.broken.get((part.index, row), [])
    if not any(b.code == "no_match" for b in broken):
        return broken
    return [b for b in broken if b.check < 0 or part.checks[b.check].reads.keys() != {part.index}]


def _codes(engine: Engine, part: PartSpec, row: Row) -> tuple[list[CodeShown], int]:
    """The codes that are shown and how many more there are; of a long list what is chosen, and the first ones."""
    if part.kind.name == "unit":
        return _units(engine, part, row)
    if not part.kind.uses_codes:
        return [], 0
    codes = engine.offered_codes(part, row)
    if part.shuffles:
        codes = shuffled_codes(codes, engine.seed, part.raw["id"], row)
    if len(codes) <= MOST_AT_A_GLANCE or part.kind.name == "ranking":
        return [shown_code(engine, part, code) for code in codes], 0
    value = engine.values[part.index].get(row)
    chosen = {value} if isinstance(value, str) else set(value or ())
    first = [*[c for c in codes if c["code"] in chosen], *[c for c in codes if c["code"] not in chosen]]
    shown = first[: max(FIRST_SHOWN, len(chosen))]
    return [shown_code(engine, part, code) for code in shown], len(codes) - len(shown)


def _units(engine: Engine, part: PartSpec, row: Row) -> tuple[list[CodeShown], int]:
    offered = units_offered(engine, part)
    chosen = engine.values[part.index].get(row)
    if isinstance(chosen, str):
        offered = {chosen: offered.get(chosen, {}), **offered} if offered else {}
    first = list(offered)[: FIRST_SHOWN if len(offered) > MOST_AT_A_GLANCE else None]
    units = engine.outside.get("units", {})
    return [shown_unit(units, key) for key in first], len(offered) - len(first)


def _reads_back(engine: Engine, part: PartSpec, row: Row) -> ReadBack | None:
    """What a read-back shows: the value in words, and in JSON form for the answer that confirms it."""
    if part.reads_back is None:
        return None
    source = engine.release.parts[part.reads_back]
    outer = row[: source.depth]
    value = engine.values[source.index].get(outer)
    return {
        "path": path_of(engine.release, source.index, outer),
        "shown": show_value(engine, source.raw, value),
        "value": write_answer(value),
    }


def _removable_row(engine: Engine, part: PartSpec, row: Row) -> str | None:
    """The row that may be removed from this screen: told at the first question of a counted row."""
    if not part.rosters:
        return None
    roster, outer = engine.release.parts[part.rosters[-1]], row[:-1]
    first = next((i for i in range(roster.index + 1, roster.end) if is_screen(engine.release.parts[i])), None)
    if first != part.index or roster.repeat is None:
        return None
    rows = engine.rows[roster.index].get(outer, [])
    counted = lowered_count(roster, outer, engine.values) is not None
    if counted or (roster.repeat[0] == "while" and len(rows) > 1):
        return f"{path_of(engine.release, roster.index, outer)}/{row[-1]}"
    return None


def _text_in(engine: Engine, texts: dict[str, str]) -> str:
    return texts.get(engine.language) or texts.get(engine.release.languages[0]) or ""


def progress(engine: Engine, path: str) -> float:
    """How far through the questionnaire a screen is, 0 to 1: by its place in the script, so that it never runs back."""
    part, row = find_part(engine.release, path)
    if not part.rosters:
        return (part.index + 1) / len(engine.release.parts)
    roster = engine.release.parts[part.rosters[0]]
    rows = engine.rows[roster.index].get((), [])
    done = rows.index(row[0]) if row[0] in rows else 0
    inside = (part.index - roster.index) / (roster.end - roster.index)
    reached = roster.index + (roster.end - roster.index) * (done + inside) / max(1, len(rows))
    return reached / len(engine.release.parts)


def around(engine: Engine, index: int, row: Row) -> list[Around]:
    """The sections and roster rows around a place, outermost first."""
    found: list[Around] = []
    parent = engine.release.parts[index].parent
    while parent is not None:
        part = engine.release.parts[parent]
        outer = row[: part.depth]
        entry: Around = {"kind": part.kind.name, "title": "", "row": None, "rows": None}
        if part.repeat is not None:
            rows = engine.rows[parent].get(outer, [])
            name = row[part.depth]
            entry["row"], entry["rows"] = rows.index(name) + 1 if name in rows else 0, len(rows)
            outer = row[: part.depth + 1]
        entry["title"] = render(engine, part.raw["wording"], outer)
        found.insert(0, entry)
        parent = part.parent
    return found


def overview(engine: Engine, *, with_derived: bool = False) -> list[OverviewLine]:
    """Every screen in a line: where it is, what it asks, what was answered; for the way back and for reading.

    Whoever reads an interview also wants the derived values, each in its place.
    """
    parts = engine.release.parts
    return [
        overview_line(engine, (index, row))
        for index, row in engine.places()
        if is_screen(parts[index]) or (with_derived and parts[index].derived is not None)
    ]


def overview_line(engine: Engine, place: Place) -> OverviewLine:
    """One screen in a line."""
    index, row = place
    part = engine.release.parts[index]
    path = path_of(engine.release, index, row)
    value = engine.values[index].get(row)
    special = engine.special[index].get(row)
    shown = show_value(engine, part.raw, value) if value is not None else ""
    broken = [b for b in engine.broken.get(place, []) if not engine.kept.get(f"{path}#{b.check}")]
    return {
        "path": path,
        "around": around(engine, index, row),
        "kind": part.kind.name,
        "variable": part.variable,
        "wording": render(engine, part.raw["wording"], row),
        "answer": word(special, engine.language, engine.own_words) if special else shown,
        "state": "special" if special else "answered" if value is not None else "open",
        "broken": len(broken),
    }
