"""Ready code lists, each named with its source; those of the world come from pycountry, in every language it has."""

from __future__ import annotations

import gettext
from collections import Counter
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

import pycountry

from skavo.core.lists import classifications, scales
from skavo.core.lists.scales import Row
from skavo.core.questionnaire.script import Code, CodeList

_PRACTICE = "Common practice"
_TRANSLATED = ("en", "fr", "ar")


@dataclass(frozen=True)
class ReadyList:
    """`name` is what it is called in a script, `title` what it is, `source` who made it; `codes` are by languages."""

    name: str
    title: str
    source: str
    codes: Callable[[Iterable[str]], list[Code]]

    def taken(self, languages: Iterable[str], name: str = "") -> CodeList:
        """The list for a script in these languages; a label that there is none of in a language is left out."""
        return CodeList(name=name or self.name, codes=self.codes(list(languages)), source=self.source)


def _written(rows: tuple[Row, ...]) -> Callable[[Iterable[str]], list[Code]]:
    def codes(languages: Iterable[str]) -> list[Code]:
        wanted = list(languages)
        return [
            Code(code=code, label=_labels(dict(zip(_TRANSLATED, words, strict=True)), wanted)) for code, *words in rows
        ]

    return codes


def _labels(known: dict[str, str], wanted: list[str]) -> dict[str, str]:
    """Labels by the script's own tags: what is known of `fr` serves `fr-CA` too. The first language is never empty."""
    labels = {tag: known[base] for tag in wanted if (base := tag.split("-")[0]) in known}
    if wanted and wanted[0] not in labels:
        labels[wanted[0]] = known["en"]
    return labels


def _of_the_world(
    database: Any, domain: str, entry_code: Callable[[Any], str | None], attributes: tuple[str, ...] = ()
) -> Callable[[Iterable[str]], list[Code]]:
    def codes(languages: Iterable[str]) -> list[Code]:
        wanted = list(languages)
        spoken = {tag: tr for tag in wanted if (tr := _translation(database, domain, tag)) is not None}
        found = []
        for entry in database:
            code = entry_code(entry)
            if code is None:
                continue
            known = {"en": getattr(entry, "common_name", entry.name)}
            labels = {tag: said for tag, tr in spoken.items() if (said := _said(tr, entry.name, known["en"]))}
            held = {name: str(value) for name in attributes if (value := getattr(entry, name, None))}
            found.append(Code(code=code, label={**_labels(known, wanted), **labels}, attributes=held))
        _tell_apart(found, wanted)
        return sorted(found, key=lambda c: c.label[wanted[0]] if wanted else c.code)

    return codes


def _tell_apart(codes: list[Code], languages: list[str]) -> None:
    """Names that two codes share get their code behind them."""
    for tag in languages:
        shared = Counter(code.label.get(tag, "") for code in codes)
        for code in codes:
            if shared[code.label.get(tag, "")] > 1 and tag in code.label:
                code.label[tag] = f"{code.label[tag]} ({code.code})"


def _translation(database: Any, domain: str, tag: str) -> gettext.NullTranslations | None:
    """The names of a database in a language other than English; None where most of them are not translated."""
    if tag.split("-")[0] == "en":
        return None
    try:
        names = gettext.translation(domain, pycountry.LOCALES_DIR, languages=[tag.replace("-", "_"), tag.split("-")[0]])
    except OSError:
        return None
    same = sum(1 for entry in database if names.gettext(entry.name) == entry.name)
    return names if same * 2 < len(database) else None


def _said(names: gettext.NullTranslations, name: str, common: str) -> str:
    """One that is the same in both languages is no less a name."""
    said = names.gettext(common)
    return said if said != common else names.gettext(name)


READY: tuple[ReadyList, ...] = (
    ReadyList("agreement", "Agreement, five points", _PRACTICE, _written(scales.AGREEMENT)),
    ReadyList("frequency", "Always to never, five points", _PRACTICE, _written(scales.FREQUENCY)),
    ReadyList("how_often", "Every day to never", _PRACTICE, _written(scales.HOW_OFTEN)),
    ReadyList("satisfaction", "Satisfaction, five points", _PRACTICE, _written(scales.SATISFACTION)),
    ReadyList("quality", "Good to bad, five points", _PRACTICE, _written(scales.QUALITY)),
    ReadyList("degree", "Fully, partly, not", _PRACTICE, _written(scales.YES_NO_PARTLY)),
    ReadyList("relationship", "Relationship to the head of the household", _PRACTICE, _written(scales.RELATIONSHIP)),
    ReadyList("weekday", "Days of the week", _PRACTICE, _written(scales.WEEKDAYS)),
    ReadyList("month", "Months of the year", _PRACTICE, _written(scales.MONTHS)),
    ReadyList("sex", "Sexes", "ISO/IEC 5218", _written(classifications.SEX)),
    ReadyList("marital", "Marital status",
              "United Nations, Principles and Recommendations for Population and Housing Censuses",
              _written(classifications.MARITAL)),
    ReadyList("difficulty", "Degrees of difficulty", "Washington Group on Disability Statistics, short set",
              _written(classifications.DIFFICULTY)),
    ReadyList("education", "Levels of education", "ISCED 2011, UNESCO Institute for Statistics",
              _written(classifications.EDUCATION)),
    ReadyList("occupation", "Major groups of occupations", "ISCO-08, International Labour Office",
              _written(classifications.OCCUPATION)),
    ReadyList("employment", "Status in employment", "ICSE-93, International Conference of Labour Statisticians",
              _written(classifications.EMPLOYMENT)),
    ReadyList("activity", "Sections of economic activity", "ISIC Rev. 4, United Nations Statistics Division",
              _written(classifications.ACTIVITY)),
    ReadyList("country", "Countries", "ISO 3166-1, by way of pycountry",
              _of_the_world(pycountry.countries, "iso3166-1", lambda c: str(c.alpha_2), ("alpha_3", "numeric"))),
    ReadyList("language", "Languages with two-letter codes", "ISO 639, by way of pycountry",
              _of_the_world(pycountry.languages, "iso639-3", lambda c: getattr(c, "alpha_2", None), ("alpha_3",))),
    ReadyList("language_all", "All languages", "ISO 639-3, by way of pycountry",
              _of_the_world(pycountry.languages, "iso639-3", lambda c: str(c.alpha_3))),
    ReadyList("currency", "Currencies", "ISO 4217, by way of pycountry",
              _of_the_world(pycountry.currencies, "iso4217", lambda c: str(c.alpha_3), ("numeric",))),
)  # fmt: skip


def ready_named(name: str) -> ReadyList | None:
    return next((entry for entry in READY if entry.name == name), None)
