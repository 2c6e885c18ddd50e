"""Texts that nearly agree: different spellings of the same, grouped around the commonest."""

from __future__ import annotations

from rapidfuzz import fuzz, process

from skavo.core.cleaning.plain_texts import folded

# More different texts than this are grouped only where they are the same but for capitals and spaces.
MOST_COMPARED = 2_000
_LIKE, _SHORTEST = 88, 4


def spellings(texts: dict[str, int], like: int = _LIKE) -> dict[str, list[str]]:
    """Each commonest spelling with the others that are like it; `texts` leads from spellings to how often they occur.

    Two texts are alike where the share of matching characters (normalised indel similarity, words in any order) is
    `like` of 100 or more, or where they are the same but for capitals and spaces. Short ones have to be the same.
    """
    ordered = sorted((text for text in texts if text.strip()), key=lambda text: (-texts[text], text))
    plain = {text: folded(text) for text in ordered}
    groups: dict[str, list[str]] = {}
    kept: dict[str, str] = {}
    for text in ordered:
        centre = kept.get(plain[text])
        if centre is None and len(ordered) <= MOST_COMPARED and len(plain[text]) >= _SHORTEST:
            found = process.extractOne(plain[text], list(kept), scorer=fuzz.token_sort_ratio, score_cutoff=like)
            centre = kept[found[0]] if found and len(found[0]) >= _SHORTEST else None
        if centre is None:
            kept[plain[text]] = text
        else:
            groups.setdefault(centre, []).append(text)
    return groups
