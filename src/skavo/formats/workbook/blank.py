"""A workbook to begin with: empty sheets with all headings, and every kind and column explained beside them."""

from __future__ import annotations

from skavo.core.interview.kinds import KINDS
from skavo.core.questionnaire.help import HELP
from skavo.core.questionnaire.script import Code, CodeList, Part, Script, ScriptCheck, UnitList, UnitOfMeasure
from skavo.formats.workbook.columns import PLAIN
from skavo.formats.workbook.sheets import write_xlsx_sheets
from skavo.formats.workbook.write import sheets_of

# Sheets that explain; they say nothing when the workbook is brought in.
_KINDS, _COLUMNS, _RULES, _EXAMPLE = "Kinds", "Columns", "Rules", "Example"
EXPLAINING = frozenset(name.lower() for name in (_KINDS, _COLUMNS, _RULES, _EXAMPLE))

# By kind: what it is for, and the columns that it needs or that say more of it.
KIND_WORDS: dict[str, tuple[str, str]] = {
    "section": ("Holds the lines below it that have a higher level; its wording is its title.", "Asked when"),
    "roster": ("Holds lines that are asked once for each: as often as a number says, for each code chosen, or while one says so.", "Repeated: “workers times”, “for each code in tools”, “while another is yes”"),
    "grid": ("Holds single answers with the same codes, asked together where there is room.", "Code list"),
    "statement": ("Something to read out or to know; nothing is answered.", "Read aloud"),
    "text": ("Words, names, numbers that are no quantities.", "Mask: A is a letter, 9 a digit, * either; what else stands in it is fixed"),
    "whole number": ("A count.", "Least, Most"),
    "decimal": ("A number with decimals.", "Least, Most"),
    "quantity": ("A number in one of several units, kept as it was said and in the base unit.", "Unit: a list of the sheet Units, or one unit such as kg"),
    "date": ("A day.", "Must hold, such as “visit <= today”"),
    "time": ("A time of day.", ""),
    "date-time": ("A day and a time.", ""),
    "yes/no": ("Yes or no.", ""),
    "single answer": ("One code of a list.", "Code list; Code filter offers only some of its codes"),
    "multiple answer": ("Any number of codes of a list; an exclusive code goes with no other.", "Code list, Most"),
    "ranking": ("Codes of a list in order.", "Code list, Most"),
    "point": ("Where one stands, with the accuracy.", ""),
    "path": ("A way, as points one after the other.", ""),
    "area": ("A plot that is walked around.", ""),
    "photo": ("A picture.", "Sensitive"),
    "audio": ("A recording.", "Sensitive"),
    "video": ("A film.", "Sensitive"),
    "file": ("Any file.", "Sensitive"),
    "signature": ("Written on the screen with a finger.", "Sensitive"),
    "scanned code": ("A bar code or QR code, read by the camera or typed.", "Mask"),
    "instrument": ("A reading of an instrument, typed or taken from it.", "Unit"),
    "unit": ("One unit of a register, picked.", "Register"),
    "read-back": ("An earlier answer is read back and confirmed.", "Reads back: the variable of that answer"),
    "derived value": ("Follows from a rule; nobody is asked.", "Derived"),
    "carried value": ("What an earlier round said; nobody is asked.", "Derived, such as “earlier.workers”"),
}  # fmt: skip

_COLUMN_WORDS: dict[str, str] = {
    "level": "1 for the outermost; what stands in a section, roster or grid has one more than it.",
    "kind": "What is answered: see the sheet Kinds.",
    "variable": "The name in rules and in the data set: small letters, digits and _, beginning with a letter.",
    "code_list": "The name of a list of the sheet Code lists.",
    "code_filter": "A rule that says which codes are offered, such as “ward.island is island”.",
    "asked_when": "A rule; empty means always. For a section it decides about all that it holds.",
    "repeated": "For rosters: “workers times”, “for each code in tools”, “while another is yes”.",
    "derived": "For derived values: what they are, such as “round(sum(staff.hours) / 40, 1)”.",
    "default": "What stands there until somebody answers otherwise.",
    "answer_needed": "yes, or a rule that says when.",
    "special_answers": "don't know, refused, or both.",
    "mask": "The pattern of a text: A is a letter, 9 a digit, * either.",
    "unit": "A list of the sheet Units, or one unit.",
    "least": "The smallest number, the fewest characters, the fewest codes.",
    "most": "The largest number, the most characters, the most codes.",
    "reads_back": "For a read-back: the variable of the answer that is read back.",
    "register_name": "For a unit: the register that it is picked from. For a roster “for each unit under …”: the one of its rows.",
    "fills": "The field of a unit that the answer becomes once the interview is accepted, such as “unit.condition”.",
    "sensitive": "yes where it tells who or where somebody is.",
    "read_aloud": "no where the wording is for the interviewer only.",
    "order": "random for lines or codes that change their places, fixed for the rest.",
    "media": "Names of pictures, sounds and films of the media shelf, a ; between them.",
    "remark": "For those who write the questionnaire; nobody else sees it.",
    "origin": "The module and the line of it that this one was taken from; leave it as it is.",
}
_OTHER_COLUMNS = (
    ("Wording [en]", "What is asked, a column for each language. {name} reads an earlier answer out."),
    ("Instruction [en]", "What the interviewer should know of it."),
    ("Must hold", "A rule that an answer has to keep; a second one stands in “Must hold 2”, and so on."),
    ("Must hold message [en]", "What is said when it does not."),
    ("Should hold", "A rule that an answer should keep, and may break for a reason."),
)


def blank_workbook(languages: list[str]) -> bytes:
    """An .xlsx file without a line in it, in `languages`, with the sheets that explain."""
    empty = Script(name="questionnaire", title=dict.fromkeys(languages, ""), languages=languages)
    shown = example(languages[0])
    held = {**sheets_of(_with_headings(empty)), "Units": [sheets_of(shown)["Units"][0]]}
    held["Script"], held["Code lists"] = held["Script"][:1], held["Code lists"][:1]
    explained = {_KINDS: _kinds(shown), _COLUMNS: _columns(), _RULES: _rules(), _EXAMPLE: sheets_of(shown)["Script"]}
    return write_xlsx_sheets({**held, **explained})


def _with_headings(script: Script) -> Script:
    """The same with one line, so that there is a column for a check of each strength."""
    checks = [ScriptCheck()]
    lists = [CodeList(name="list", codes=[Code(code="code")])]
    return script.model_copy(
        update={"parts": [Part(id="_", must_hold=checks, should_hold=checks)], "code_lists": lists}
    )


def _kinds(shown: Script) -> list[list[str]]:
    examples = {part.kind: part for part in reversed(shown.parts)}
    rows = [["Kind", "What it is for", "Columns that matter", "Example"]]
    for name in KINDS:
        what, columns = KIND_WORDS[name]
        rows.append([name, what, columns, next(iter(examples[name].wording.values()), "")])
    return rows


def _columns() -> list[list[str]]:
    rows = [[column.heading, _COLUMN_WORDS[column.field]] for column in PLAIN]
    place = next(n for n, row in enumerate(rows) if row[0] == "Code list")
    return [["Column", "What it says"], *rows[:place], *[[*pair] for pair in _OTHER_COLUMNS], *rows[place:]]


def _rules() -> list[list[str]]:
    rows = [[topic.title, entry.rule, entry.words] for topic in HELP for entry in topic.examples]
    return [["About", "Rule", "What it says"], *rows]


def example(language: str) -> Script:
    """A small questionnaire with a line of every kind; it has no errors but for the earlier round that it asks for."""

    def part(level: int, kind: str, variable: str, wording: str, **more: object) -> Part:
        plain = {"id": variable, "level": level, "kind": kind, "variable": variable, "wording": {language: wording}}
        return Part.model_validate({**plain, **more})

    def codes(name: str, **labels: str) -> CodeList:
        return CodeList(name=name, codes=[Code(code=code, label={language: label}) for code, label in labels.items()])

    tools = codes("tool", vice="Bench vice", drill="Power drill", none="None of these")
    tools.codes[-1].exclusive = True
    parts = [
        part(1, "section", "workshop", "The workshop"),
        part(2, "statement", "greeting", "We ask everyone who mends things for a living."),
        part(2, "unit", "which", "Which workshop of the trade roll is this?", register_name="workshops"),
        part(2, "carried value", "workers_before", "Workers in the last round", derived="earlier.workers"),
        part(2, "text", "unit_code", "Code on the door plate", mask="AA-9999", sensitive=True),
        part(2, "read-back", "code_right", "Is the code right?", reads_back="unit_code"),
        part(2, "scanned code", "plate", "Scan the plate"),
        part(2, "date", "opened", "When did it open?", must_hold=[{"rule": "opened <= today"}]),
        part(2, "time", "closes", "When does it close?"),
        part(2, "date-time", "last_visit", "When were we here last?"),
        part(2, "yes/no", "has_staff", "Does anybody else work here?"),
        part(2, "whole number", "workers", "How many?", asked_when="has_staff is yes", least=1, most=40),
        part(1, "roster", "staff", "Each of them", repeated="workers times"),
        part(2, "decimal", "hours", "Hours worked last week", must_hold=[{"rule": "hours between 0 and 112"}]),
        part(1, "derived value", "full_time", "Full-time posts", derived="round(sum(staff.hours) / 40, 1)"),
        part(1, "single answer", "best", "Which tool is used most?", code_list="tool"),
        part(1, "multiple answer", "tools", "Which of these are there?", code_list="tool"),
        part(1, "ranking", "wanted", "Which would help most?", code_list="tool", most=2),
        part(1, "grid", "agree", "How far do you agree?", code_list="agreement"),
        part(2, "single answer", "pays", "Mending pays", code_list="agreement"),
        part(2, "single answer", "grows", "There is more work than before", code_list="agreement"),
        part(1, "quantity", "scrap", "How much is thrown away in a week?", unit="scrap_unit"),
        part(1, "instrument", "weight", "Weight of one sack on the scales", unit="kg"),
        part(1, "point", "door", "Where is the door?", sensitive=True),
        part(1, "path", "round", "The delivery round"),
        part(1, "area", "yard", "Walk around the yard"),
        part(1, "photo", "front", "The front of the workshop"),
        part(1, "audio", "noise", "Ten seconds of the noise at the bench"),
        part(1, "video", "at_work", "Somebody at work"),
        part(1, "file", "licence", "The licence, if there is a copy"),
        part(1, "signature", "signed", "Please sign", sensitive=True),
    ]  # fmt: skip
    kilograms = UnitOfMeasure(unit="kg", dimension="mass", label={language: "kilograms"})
    sacks = UnitOfMeasure(unit="sack", dimension="mass", factor="40", label={language: "sacks"})
    agreement = codes("agreement", a="Not at all", b="Partly", c="Fully")
    return Script(
        name="example", title={language: "Example"}, languages=[language], parts=parts, code_lists=[tools, agreement],
        unit_lists=[UnitList(name="scrap_unit", units=[kilograms, sacks])],
    )  # fmt: skip
