"""Paths of answers: `workers`, or in a roster `staff/2/age`: roster variable and row in turn, outermost first."""

from __future__ import annotations

from skavo.core.errors import InterviewError
from skavo.core.interview.release import PartSpec, Release
from skavo.core.rules.state import Row


def path_of(release: Release, index: int, row: Row) -> str:
    part = release.parts[index]
    around = [
        piece
        for roster, name in zip(part.rosters, row, strict=True)
        for piece in (release.parts[roster].variable, str(name))
    ]
    return "/".join([*around, part.variable or f"#{part.raw['id']}"])


def find_part(release: Release, path: str) -> tuple[PartSpec, Row]:
    """The part and the row that a path names; raise InterviewError where the release has no such place."""
    outermost = release.outermost.get(path)
    if outermost is not None:
        return outermost, ()
    pieces = path.split("/")
    index = release.by_name.get(pieces[-1])
    if index is None and pieces[-1].startswith("#"):
        index = next((p.index for p in release.parts if p.raw["id"] == pieces[-1][1:]), None)
    if index is None:
        raise InterviewError("no_such_place", f"The release asks nothing at {path}.", {"path": path})
    part = release.parts[index]
    names = [release.parts[roster].variable for roster in part.rosters]
    if len(pieces) != 2 * len(names) + 1 or pieces[:-1:2] != names:
        raise InterviewError("no_such_place", f"The release asks nothing at {path}.", {"path": path})
    row = tuple(_row_name(release, roster, piece) for roster, piece in zip(part.rosters, pieces[1::2], strict=True))
    return part, row


def _row_name(release: Release, roster: int, piece: str) -> int | str:
    repeat = release.parts[roster].repeat
    counted = repeat is not None and repeat[0] in ("times", "while")
    if counted and not piece.isdecimal():
        raise InterviewError("no_such_place", f"Row {piece} is not a number.", {"row": piece})
    return int(piece) if counted else piece
