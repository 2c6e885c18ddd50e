"""A composed questionnaire as HTML and as a PDF, with the fonts that ship with Skavo."""

from __future__ import annotations

import base64
from collections.abc import Callable, Sequence
from functools import cache
from importlib.resources import files
from typing import Any

from jinja2 import Environment, FunctionLoader, select_autoescape
from markupsafe import Markup

from skavo.core.errors import SkavoError
from skavo.core.paper.sheet import Choice, Line, Paper

# A picture of the shelf as (type, content), None where it is no picture or not there.
Picture = Callable[[str], tuple[str, bytes] | None]
PANGO = "Install the Debian packages libpango-1.0-0, libpangoft2-1.0-0 and libharfbuzz-subset0, and start Skavo again."
MOST_COLUMNS, MOST_IN_A_COLUMN = 6, 9
_FAMILIES = {
    "latin": "sans",
    "latin-ext": "sans",
    "cyrillic": "sans",
    "greek": "sans",
    "vietnamese": "sans",
    "arabic": "sans-arabic",
}
_WEIGHTS = (400, 600)


def write_html(paper: Paper, picture: Picture = lambda name: None) -> str:
    """The whole page; pictures and fonts stand in it, nothing is fetched."""
    page: str = _template().render(
        paper=paper, words=paper.words, css=Markup(_text("page.css")), fonts=Markup(_fonts()), split=_split, halves=_halves,
        picture=lambda name: _data_address(picture(name)),
        # A ring for one answer, a box for several.
        one=(paper.words["choose_one"], ""),
    )  # fmt: skip
    return page


def can_print() -> bool:
    """Whether this machine has what lays text out."""
    try:
        import weasyprint  # noqa: F401 — asks the machine for Pango
    except OSError:
        return False
    return True


def write_pdf(paper: Paper, picture: Picture = lambda name: None) -> bytes:
    """The page as a PDF; raise SkavoError where this machine lacks what lays text out."""
    try:
        from weasyprint import HTML, URLFetcher
    except OSError as error:
        raise SkavoError(
            "no_pango", f"This machine lacks Pango, which lays out text in every script. {PANGO}",
        ) from error  # fmt: skip

    fetcher = URLFetcher(allowed_protocols=["data"], allow_redirects=False)
    content: bytes = HTML(string=write_html(paper, picture), url_fetcher=fetcher).write_pdf()
    return content


def _split(columns: Sequence[Line]) -> list[Sequence[Line]]:
    """The columns of a wide table in tables of a page's width, about as many in each."""
    tables = max(1, -(-len(columns) // MOST_COLUMNS))
    width = -(-len(columns) // tables)
    return [columns[start : start + width] for start in range(0, len(columns), width)]


def _halves(choices: Sequence[Choice]) -> list[Sequence[Choice]]:
    """Many choices stand beside each other, unless some of them lead elsewhere: that needs the width."""
    if len(choices) <= MOST_IN_A_COLUMN or any(choice.leads for choice in choices):
        return [choices]
    middle = -(-len(choices) // 2)
    return [choices[:middle], choices[middle:]]


def _data_address(picture: tuple[str, bytes] | None) -> str:
    if picture is None:
        return ""
    kind, content = picture
    return f"data:{kind};base64,{base64.b64encode(content).decode()}"


@cache
def _template() -> Any:
    environment = Environment(
        loader=FunctionLoader(_text), autoescape=select_autoescape(default=True), trim_blocks=True
    )
    return environment.get_template("page.html")


def _text(name: str) -> str:
    return files(__package__).joinpath(name).read_text(encoding="utf-8")


@cache
def _fonts() -> str:
    """One family for each script, so that every sign is found whatever language it stands in."""
    faces = []
    for script, family in _FAMILIES.items():
        for weight in _WEIGHTS:
            content = (
                files(__package__).joinpath("fonts", f"ibm-plex-{family}-{script}-{weight}-normal.woff2").read_bytes()
            )
            address = _data_address(("font/woff2", content))
            faces.append(f'@font-face {{ font-family: "Plex {script}"; font-weight: {weight}; src: url({address}) }}')
    return "\n".join(faces)
