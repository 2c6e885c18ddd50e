"""Scales and small lists that every questionnaire needs, in three languages: the trade's common practice, no standard.

Rows are code, English, French, Arabic.
"""

from __future__ import annotations

Row = tuple[str, str, str, str]

AGREEMENT: tuple[Row, ...] = (
    ("strongly_agree", "Strongly agree", "Tout à fait d’accord", "أوافق بشدة"),
    ("agree", "Agree", "Plutôt d’accord", "أوافق"),
    ("neither", "Neither agree nor disagree", "Ni d’accord ni pas d’accord", "لا أوافق ولا أعارض"),
    ("disagree", "Disagree", "Plutôt pas d’accord", "أعارض"),
    ("strongly_disagree", "Strongly disagree", "Pas du tout d’accord", "أعارض بشدة"),
)
FREQUENCY: tuple[Row, ...] = (
    ("always", "Always", "Toujours", "دائماً"),
    ("often", "Often", "Souvent", "غالباً"),
    ("sometimes", "Sometimes", "Parfois", "أحياناً"),
    ("rarely", "Rarely", "Rarement", "نادراً"),
    ("never", "Never", "Jamais", "أبداً"),
)
HOW_OFTEN: tuple[Row, ...] = (
    ("daily", "Every day", "Tous les jours", "كل يوم"),
    ("weekly", "Every week", "Chaque semaine", "كل أسبوع"),
    ("monthly", "Every month", "Chaque mois", "كل شهر"),
    ("yearly", "Every year", "Chaque année", "كل سنة"),
    ("less", "Less often", "Moins souvent", "أقل من ذلك"),
    ("never", "Never", "Jamais", "أبداً"),
)
SATISFACTION: tuple[Row, ...] = (
    ("very_satisfied", "Very satisfied", "Très satisfait", "راضٍ جداً"),
    ("satisfied", "Satisfied", "Satisfait", "راضٍ"),
    ("neither", "Neither satisfied nor dissatisfied", "Ni satisfait ni insatisfait", "لا راضٍ ولا غير راضٍ"),
    ("dissatisfied", "Dissatisfied", "Insatisfait", "غير راضٍ"),
    ("very_dissatisfied", "Very dissatisfied", "Très insatisfait", "غير راضٍ على الإطلاق"),
)
QUALITY: tuple[Row, ...] = (
    ("very_good", "Very good", "Très bon", "جيد جداً"),
    ("good", "Good", "Bon", "جيد"),
    ("fair", "Neither good nor bad", "Ni bon ni mauvais", "لا جيد ولا سيئ"),
    ("bad", "Bad", "Mauvais", "سيئ"),
    ("very_bad", "Very bad", "Très mauvais", "سيئ جداً"),
)
YES_NO_PARTLY: tuple[Row, ...] = (
    ("fully", "Yes, fully", "Oui, entièrement", "نعم، كلياً"),
    ("partly", "Partly", "En partie", "جزئياً"),
    ("not", "No", "Non", "لا"),
)
RELATIONSHIP: tuple[Row, ...] = (
    ("head", "Head of the household", "Chef du ménage", "رب الأسرة"),
    ("partner", "Husband, wife or partner", "Conjoint ou partenaire", "الزوج أو الشريك"),
    ("child", "Son or daughter", "Fils ou fille", "ابن أو ابنة"),
    ("stepchild", "Stepchild or foster child", "Enfant du conjoint ou placé", "ربيب أو طفل مكفول"),
    ("child_in_law", "Son- or daughter-in-law", "Gendre ou belle-fille", "زوج الابنة أو زوجة الابن"),
    ("grandchild", "Grandchild", "Petit-enfant", "حفيد"),
    ("parent", "Father or mother", "Père ou mère", "أب أو أم"),
    ("parent_in_law", "Father- or mother-in-law", "Beau-père ou belle-mère", "أب أو أم الزوج"),
    ("sibling", "Brother or sister", "Frère ou sœur", "أخ أو أخت"),
    ("other_relative", "Other relative", "Autre parent", "قريب آخر"),
    ("not_related", "Not related", "Sans lien de parenté", "بلا صلة قرابة"),
)
WEEKDAYS: tuple[Row, ...] = (
    ("monday", "Monday", "Lundi", "الاثنين"),
    ("tuesday", "Tuesday", "Mardi", "الثلاثاء"),
    ("wednesday", "Wednesday", "Mercredi", "الأربعاء"),
    ("thursday", "Thursday", "Jeudi", "الخميس"),
    ("friday", "Friday", "Vendredi", "الجمعة"),
    ("saturday", "Saturday", "Samedi", "السبت"),
    ("sunday", "Sunday", "Dimanche", "الأحد"),
)
MONTHS: tuple[Row, ...] = (
    ("1", "January", "Janvier", "يناير"),
    ("2", "February", "Février", "فبراير"),
    ("3", "March", "Mars", "مارس"),
    ("4", "April", "Avril", "أبريل"),
    ("5", "May", "Mai", "مايو"),
    ("6", "June", "Juin", "يونيو"),
    ("7", "July", "Juillet", "يوليو"),
    ("8", "August", "Août", "أغسطس"),
    ("9", "September", "Septembre", "سبتمبر"),
    ("10", "October", "Octobre", "أكتوبر"),
    ("11", "November", "Novembre", "نوفمبر"),
    ("12", "December", "Décembre", "ديسمبر"),
)
