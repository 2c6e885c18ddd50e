"""What people think: a grid of statements on one scale, some of them turned round."""

from __future__ import annotations

from skavo.core.modules.writing import codes, line, module

AGREEMENT = module(
    "agreement",
    ("Agreement grid", "Grille d’accord", "شبكة الموافقة"),
    (
        "Trust among neighbours on a scale of five; two statements are turned round, so that ticking down one column shows.",
        "La confiance entre voisins sur cinq degrés ; deux énoncés sont inversés, pour voir qui coche une colonne.",
        "الثقة بين الجيران على سلم من خمس درجات؛ عبارتان معكوستان لكشف من يختار عمودا واحدا.",
    ),
    [
        line(
            1, "grid", "trust",
            (
                "How far do you agree with each of these?", "Dans quelle mesure êtes-vous d’accord ?",
                "إلى أي مدى توافق على كل مما يلي؟",
            ),
            code_list="agreement",
            should=[
                (
                    "not (helps is lends and lends is safe and safe is alone and alone is locks)",
                    (
                        "The same answer everywhere, also where the statement is turned round.",
                        "La même réponse partout, même là où l’énoncé est inversé.",
                        "الإجابة نفسها في كل مكان، حتى حيث العبارة معكوسة.",
                    ),
                )
            ],
        ),
        line(
            2, "single answer", "helps",
            ("Neighbours here help each other.", "Ici, les voisins s’entraident.", "الجيران هنا يساعد بعضهم بعضا."),
            answer_needed="yes", special_answers=["refused"],
        ),
        line(
            2, "single answer", "lends",
            ("I would lend a neighbour a tool.", "Je prêterais un outil à un voisin.", "قد أعير جارا أداة."),
            answer_needed="yes", special_answers=["refused"],
        ),
        line(
            2, "single answer", "safe",
            ("I feel safe here after dark.", "Je me sens en sécurité ici le soir.", "أشعر بالأمان هنا بعد حلول الظلام."),
            answer_needed="yes", special_answers=["refused"],
        ),
        line(
            2, "single answer", "alone",
            (
                "In trouble one is alone here.", "En cas de malheur, on est seul ici.", "في الشدة يكون المرء وحيدا هنا.",
            ),
            answer_needed="yes", special_answers=["refused"], remark="Turned round: agreeing means little trust.",
        ),
        line(
            2, "single answer", "locks",
            (
                "One has to lock everything up here.", "Il faut tout fermer à clé ici.", "يجب إقفال كل شيء هنا.",
            ),
            answer_needed="yes", special_answers=["refused"], remark="Turned round: agreeing means little trust.",
        ),
    ],
    lists=[
        codes(
            "agreement",
            ("1", ("Disagree strongly", "Pas du tout d’accord", "لا أوافق بشدة")),
            ("2", ("Disagree", "Pas d’accord", "لا أوافق")),
            ("3", ("Neither", "Ni l’un ni l’autre", "لا هذا ولا ذاك")),
            ("4", ("Agree", "D’accord", "أوافق")), ("5", ("Agree strongly", "Tout à fait d’accord", "أوافق بشدة")),
        )
    ],
    source="Scale with equal sides and a middle, after Likert (1932); statements worded anew for Skavo.",
)  # fmt: skip
