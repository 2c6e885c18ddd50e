"""The top of international classifications, as their keepers publish them.

Codes and English titles are written down from memory of the published tables, the French and Arabic labels are
translations of our own. Rows are code, English, French, Arabic.
"""

from __future__ import annotations

from skavo.core.lists.scales import Row

# ISO/IEC 5218, Codes for the representation of human sexes.
SEX: tuple[Row, ...] = (
    ("1", "Male", "Masculin", "ذكر"),
    ("2", "Female", "Féminin", "أنثى"),
    ("0", "Not known", "Inconnu", "غير معروف"),
    ("9", "Not applicable", "Sans objet", "لا ينطبق"),
)
# ISCED 2011, UNESCO Institute for Statistics: levels of education.
EDUCATION: tuple[Row, ...] = (
    ("0", "Early childhood education", "Éducation de la petite enfance", "تعليم الطفولة المبكرة"),
    ("1", "Primary education", "Enseignement primaire", "التعليم الابتدائي"),
    ("2", "Lower secondary education", "Premier cycle du secondaire", "المرحلة الأولى من التعليم الثانوي"),
    ("3", "Upper secondary education", "Deuxième cycle du secondaire", "المرحلة الثانية من التعليم الثانوي"),
    ("4", "Post-secondary non-tertiary education", "Post-secondaire non supérieur", "تعليم ما بعد الثانوي غير العالي"),
    ("5", "Short-cycle tertiary education", "Supérieur de cycle court", "التعليم العالي قصير الأمد"),
    ("6", "Bachelor’s or equivalent level", "Licence ou équivalent", "البكالوريوس أو ما يعادلها"),
    ("7", "Master’s or equivalent level", "Master ou équivalent", "الماجستير أو ما يعادلها"),
    ("8", "Doctoral or equivalent level", "Doctorat ou équivalent", "الدكتوراه أو ما يعادلها"),
    ("9", "Not elsewhere classified", "Non classé ailleurs", "غير مصنف في مكان آخر"),
)
# ISCO-08, International Labour Office: major groups of occupations.
OCCUPATION: tuple[Row, ...] = (
    ("1", "Managers", "Directeurs, cadres de direction et gérants", "المديرون"),
    ("2", "Professionals", "Professions intellectuelles et scientifiques", "الاختصاصيون"),
    ("3", "Technicians and associate professionals", "Professions intermédiaires", "الفنيون ومساعدو الاختصاصيين"),
    ("4", "Clerical support workers", "Employés de type administratif", "الكتبة"),
    ("5", "Service and sales workers", "Services directs et vente", "العاملون في الخدمات والبيع"),
    ("6", "Skilled agricultural, forestry and fishery workers", "Agriculteurs, forestiers et pêcheurs qualifiés",
     "العاملون المهرة في الزراعة والغابات والصيد"),
    ("7", "Craft and related trades workers", "Métiers qualifiés de l’industrie et de l’artisanat",
     "العاملون في الحرف والمهن المرتبطة بها"),
    ("8", "Plant and machine operators, and assemblers", "Conducteurs d’installations et de machines",
     "مشغلو المصانع والآلات ومجمعوها"),
    ("9", "Elementary occupations", "Professions élémentaires", "المهن الأولية"),
    ("0", "Armed forces occupations", "Professions militaires", "مهن القوات المسلحة"),
)  # fmt: skip
# ISIC Rev. 4, United Nations Statistics Division: sections of economic activity.
ACTIVITY: tuple[Row, ...] = (
    ("A", "Agriculture, forestry and fishing", "Agriculture, sylviculture et pêche", "الزراعة والحراجة وصيد الأسماك"),
    ("B", "Mining and quarrying", "Activités extractives", "التعدين واستغلال المحاجر"),
    ("C", "Manufacturing", "Activités de fabrication", "الصناعة التحويلية"),
    ("D", "Electricity, gas, steam and air conditioning supply", "Électricité, gaz, vapeur et climatisation",
     "إمدادات الكهرباء والغاز والبخار وتكييف الهواء"),
    ("E", "Water supply; sewerage, waste management and remediation", "Eau, assainissement, gestion des déchets",
     "إمدادات المياه والصرف الصحي وإدارة النفايات"),
    ("F", "Construction", "Construction", "التشييد"),
    ("G", "Wholesale and retail trade; repair of motor vehicles", "Commerce ; réparation de véhicules",
     "تجارة الجملة والتجزئة وإصلاح المركبات"),
    ("H", "Transportation and storage", "Transport et entreposage", "النقل والتخزين"),
    ("I", "Accommodation and food service activities", "Hébergement et restauration", "الإقامة والخدمات الغذائية"),
    ("J", "Information and communication", "Information et communication", "المعلومات والاتصالات"),
    ("K", "Financial and insurance activities", "Activités financières et d’assurances", "الأنشطة المالية والتأمين"),
    ("L", "Real estate activities", "Activités immobilières", "الأنشطة العقارية"),
    ("M", "Professional, scientific and technical activities", "Activités professionnelles, scientifiques, techniques",
     "الأنشطة المهنية والعلمية والتقنية"),
    ("N", "Administrative and support service activities", "Services administratifs et d’appui",
     "الخدمات الإدارية وخدمات الدعم"),
    ("O", "Public administration and defence; compulsory social security", "Administration publique et défense",
     "الإدارة العامة والدفاع والضمان الاجتماعي"),
    ("P", "Education", "Éducation", "التعليم"),
    ("Q", "Human health and social work activities", "Santé et action sociale", "الصحة والعمل الاجتماعي"),
    ("R", "Arts, entertainment and recreation", "Arts, spectacles et loisirs", "الفنون والترفيه والتسلية"),
    ("S", "Other service activities", "Autres activités de services", "أنشطة الخدمات الأخرى"),
    ("T", "Activities of households as employers", "Activités des ménages en tant qu’employeurs",
     "أنشطة الأسر المعيشية كصاحبة عمل"),
    ("U", "Activities of extraterritorial organizations", "Activités des organismes extraterritoriaux",
     "أنشطة المنظمات خارج الحدود الإقليمية"),
)  # fmt: skip
# ICSE-93, International Conference of Labour Statisticians: status in employment.
EMPLOYMENT: tuple[Row, ...] = (
    ("1", "Employee", "Salarié", "مستخدم بأجر"),
    ("2", "Employer", "Employeur", "صاحب عمل"),
    ("3", "Own-account worker", "Travailleur pour son propre compte", "يعمل لحسابه الخاص"),
    ("4", "Member of a producers’ cooperative", "Membre d’une coopérative de producteurs", "عضو في تعاونية منتجين"),
    ("5", "Contributing family worker", "Travailleur familial collaborant", "مساهم في عمل الأسرة"),
)
# Marital status as in the United Nations’ Principles and Recommendations for Population and Housing Censuses.
MARITAL: tuple[Row, ...] = (
    ("single", "Single, never married", "Célibataire", "أعزب، لم يسبق له الزواج"),
    ("married", "Married", "Marié", "متزوج"),
    ("union", "In a consensual union", "En union libre", "في علاقة بالتراضي"),
    ("widowed", "Widowed, not remarried", "Veuf, non remarié", "أرمل"),
    ("divorced", "Divorced, not remarried", "Divorcé, non remarié", "مطلق"),
    ("separated", "Married but separated", "Marié mais séparé", "متزوج ومنفصل"),
)
# Washington Group on Disability Statistics, short set: degrees of difficulty.
DIFFICULTY: tuple[Row, ...] = (
    ("1", "No, no difficulty", "Non, aucune difficulté", "لا، بلا صعوبة"),
    ("2", "Yes, some difficulty", "Oui, un peu de difficulté", "نعم، بعض الصعوبة"),
    ("3", "Yes, a lot of difficulty", "Oui, beaucoup de difficulté", "نعم، صعوبة كبيرة"),
    ("4", "Cannot do it at all", "Je ne peux pas du tout", "لا أستطيع على الإطلاق"),
)
