"""Texts that nearly agree: different spellings of the same, grouped around the commonest."""

from __future__ import annotations

from collections import Counter

from rapidfuzz import fuzz, process
from rapidfuzz.distance import OSA

from skavo.core.cleaning.plain_texts import folded

# More different texts than this are grouped only where they are the same but for capitals and spaces.
MOST_COMPARED = 2_000
_LIKE, _SHORTEST, _NEAREST = 84, 4, 5
# A word of so many letters may hold two slips, a shorter one only one (common practice).
_LONG = 8


def spellings(texts: dict[str, int], like: int = _LIKE) -> dict[str, list[str]]:
    """Each commonest spelling with the others that are like it; `texts` leads from spellings to how often they occur.

    Two texts are alike where the share of matching characters (normalised indel similarity, words in any order) is
    `like` of 100 or more and each word is the other's but for a slip, or where they are the same but for capitals and
    spaces. Short ones have to be the same. Of spellings that are as common, the one written as the others are stands for
    all: not in one case, of the words that most have, and ending as most do.
    """
    written = [text for text in texts if text.strip()]
    words = Counter(word for text in written for word in folded(text).split())
    ends = Counter(folded(text).split()[-1] for text in written)

    def usual(text: str) -> tuple[int, bool, int, int, str]:
        own = folded(text).split()
        in_one_case = text in (text.upper(), text.lower())
        return -texts[text], in_one_case, -sum(words[word] for word in own), -ends[own[-1]], text

    ordered = sorted(written, key=usual)
    plain = {text: folded(text) for text in ordered}
    groups: dict[str, list[str]] = {}
    kept: dict[str, str] = {}
    for text in ordered:
        centre = kept.get(plain[text])
        if centre is None and len(ordered) <= MOST_COMPARED and len(plain[text]) >= _SHORTEST:
            near = process.extract(
                plain[text], list(kept), scorer=fuzz.token_sort_ratio, score_cutoff=like, limit=_NEAREST
            )
            centre = next((kept[o] for o, *_ in near if len(o) >= _SHORTEST and _but_for_slips(plain[text], o)), None)
        if centre is None:
            kept[plain[text]] = text
        else:
            groups.setdefault(centre, []).append(text)
    return groups


def _but_for_slips(a: str, b: str) -> bool:
    """Whether two folded texts have the same words but for slips of the pen; one that holds a figure has to be the same."""
    mine, theirs = Counter(a.split()), Counter(b.split())
    left, right = sorted((mine - theirs).elements()), sorted((theirs - mine).elements())
    if len(left) != len(right):
        # Words written together, or apart.
        left, right = ["".join(left)], ["".join(right)]
    return all(_is_slip(x, y) for x, y in zip(left, right, strict=True))


def _is_slip(a: str, b: str) -> bool:
    """Within one letter left out, put in, changed or two changed over (optimal string alignment); two in a long word."""
    if any(letter.isdigit() for letter in a + b):
        return a == b
    return OSA.distance(a, b) <= (2 if min(len(a), len(b)) >= _LONG else 1)
