"""What a link says to whoever answers: its welcome, its thanks, and the letters that carry it."""

from __future__ import annotations

import re

from pydantic import BaseModel, ConfigDict, Field

from skavo.core.errors import DataError

# What is filled into a letter.
PLACES = ("name", "link", "study", "until")
_PLACE = re.compile(r"\{(\w*)\}")


class LinkTexts(BaseModel):
    """Plain texts in one language; `letter` and `reminder` hold {link}, and may hold {name}, {study} and {until}."""

    model_config = ConfigDict(extra="forbid")

    welcome: str = Field(default="", max_length=4000)
    thanks: str = Field(default="", max_length=4000)
    subject: str = Field(default="", max_length=200, pattern=r"^[^\r\n]*$")
    letter: str = Field(default="", max_length=8000)
    reminder: str = Field(default="", max_length=8000)


DEFAULTS: dict[str, LinkTexts] = {
    "en": LinkTexts(
        welcome="Thank you for taking the time. What you answer is kept while you go, and sent when you say so.",
        thanks="Your answers have arrived. You may close this page.",
        subject="{study}: may we ask you?",
        letter="{name},\n\nplease answer our questions on this page. The link is yours alone:\n\n{link}\n\n"
        "It can be used until {until}. You may stop and go on later in the same browser.\n",
        reminder="{name},\n\nwe have not had your answers yet, and would be glad of them:\n\n{link}\n\n"
        "The link can be used until {until}. If you have answered meanwhile, thank you.\n",
    ),
    "fr": LinkTexts(
        welcome="Merci de prendre ce temps. Vos réponses sont gardées au fur et à mesure, et envoyées quand vous le dites.",
        thanks="Vos réponses sont arrivées. Vous pouvez fermer cette page.",
        subject="{study} : pouvons-nous vous interroger ?",
        letter="{name},\n\nmerci de répondre à nos questions sur cette page. Le lien n’est que pour vous :\n\n{link}\n\n"
        "Il est valable jusqu’au {until}. Vous pouvez vous arrêter et continuer plus tard dans le même navigateur.\n",
        reminder="{name},\n\nnous n’avons pas encore vos réponses et serions heureux de les recevoir :\n\n{link}\n\n"
        "Le lien est valable jusqu’au {until}. Si vous avez répondu entre-temps, merci.\n",
    ),
    "ar": LinkTexts(
        welcome="شكرًا على وقتك. تُحفظ إجاباتك أثناء الإجابة، وتُرسل عندما تريد.",
        thanks="وصلت إجاباتك. يمكنك إغلاق هذه الصفحة.",
        subject="{study}: هل لنا أن نسألك؟",
        letter="{name}،\n\nنرجو الإجابة عن أسئلتنا في هذه الصفحة. الرابط لك وحدك:\n\n{link}\n\n"
        "يمكن استعماله حتى {until}. يمكنك التوقف والمتابعة لاحقًا في المتصفح نفسه.\n",
        reminder="{name}،\n\nلم تصلنا إجاباتك بعد، ويسعدنا أن نتلقاها:\n\n{link}\n\n"
        "يمكن استعمال الرابط حتى {until}. إن كنت قد أجبت فشكرًا لك.\n",
    ),
}  # fmt: skip


def default_texts(language: str) -> LinkTexts:
    """What a link says where nobody has written anything; English where Skavo does not speak the language."""
    return DEFAULTS.get(language.split("-")[0].lower(), DEFAULTS["en"])


def written(texts: dict[str, LinkTexts], language: str) -> LinkTexts:
    """The texts in `language`, each of them the ready one where none was written."""
    ready, own = default_texts(language), texts.get(language, LinkTexts())
    return LinkTexts(**{name: value or getattr(ready, name) for name, value in own.model_dump().items()})


def check_texts(texts: dict[str, LinkTexts]) -> None:
    """Raise DataError where a letter lacks the link, or names something that is not filled in."""
    for language, own in texts.items():
        for name in ("subject", "letter", "reminder"):
            text: str = getattr(own, name)
            unknown = [place for place in _PLACE.findall(text) if place not in PLACES]
            if unknown:
                raise DataError(
                    "unknown_place", f"The {name} in {language} holds {{{unknown[0]}}}; what can be filled in is "
                    f"{', '.join(f'{{{place}}}' for place in PLACES)}.", {"language": language, "text": name},
                )  # fmt: skip
            if name != "subject" and text.strip() and "{link}" not in text:
                raise DataError(
                    "no_link", f"The {name} in {language} does not hold {{link}}. Write it where the address is to stand.",
                    {"language": language, "text": name},
                )  # fmt: skip


def fill(text: str, values: dict[str, str]) -> str:
    """A letter with what is filled into it; what stands in a value is left as it is.

    >>> fill("{name}: {link}", {"name": "Ada {link}", "link": "http://x"})
    'Ada {link}: http://x'
    """
    return _PLACE.sub(lambda place: values.get(place[1], place[0]), text)
