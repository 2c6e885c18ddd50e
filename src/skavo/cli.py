"""The command line: what needs no browser."""

from __future__ import annotations

import argparse
import json
import os
import sys
import time
from collections.abc import Callable
from dataclasses import asdict
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from typing import TYPE_CHECKING

from skavo import __version__
from skavo.core.errors import DataError, SkavoError

if TYPE_CHECKING:
    from skavo.core.interview.release import Release
    from skavo.core.rehearsal.proof.results import Proof
    from skavo.settings import Settings

FOLDER = Path(os.environ.get("SKAVO_FOLDER", "var"))


def main(arguments: list[str] | None = None) -> int:
    """Run one command; return the exit status."""
    options = _parser().parse_args(arguments)
    command: Callable[[argparse.Namespace], int] = options.run
    try:
        return command(options)
    except SkavoError as error:
        print(f"skavo: {error.message}", file=sys.stderr)
        return 2


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="skavo", description="Surveys from an empty page to numbers that can be defended."
    )
    parser.add_argument("--version", action="version", version=__version__)
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    serve = commands.add_parser("serve", help="serve the studies in a folder")
    demo = commands.add_parser("demo", help="make the demo study if need be, and serve it")
    demo.add_argument("--folder", type=Path, default=FOLDER, help="where everything is kept (default: %(default)s)")
    demo.add_argument("--host", default="127.0.0.1")
    demo.add_argument("--port", type=int, default=8060)
    demo.set_defaults(run=_demo)
    doctor = commands.add_parser("doctor", help="say what stands in the way of a server")
    for command in (serve, doctor):
        command.add_argument(
            "--settings", type=Path, help="a file of settings (default: skavo.toml, where there is one)"
        )
        command.add_argument("--folder", type=Path, help="where everything is kept")
        command.add_argument("--host", help="the address to listen on")
        command.add_argument("--port", type=int)
        command.add_argument(
            "--public-address", help="where browsers and phones reach it, as https://skavo.example.org"
        )
        command.add_argument("--trusted-proxies", type=int, help="how many proxies stand before it")
    serve.set_defaults(run=_serve)
    doctor.add_argument("--backups", type=Path, help="the folder that backups are written to")
    doctor.set_defaults(run=_doctor)
    demo.add_argument("--interviews", type=int, default=None, help="how many interviews the phones hand in")
    demo.add_argument("--live", action="store_true", help="let the phones go on handing in while it is served")
    demo.add_argument("--only-make", action="store_true", help="make the study and stop")

    fleet = commands.add_parser("fleet", help="let simulated phones hand in made-up interviews of a study")
    fleet.add_argument("--folder", type=Path, default=FOLDER, help="where the study is kept (default: %(default)s)")
    fleet.add_argument("--study", type=int, default=1, help="the number of the study (default: %(default)s)")
    fleet.add_argument("--address", help="the server of that folder, where one runs; else one is started for it")
    fleet.add_argument("--phones", type=int, default=8, help="how many (default: %(default)s)")
    fleet.add_argument("--days", type=int, default=3, help="days of fieldwork up to today (default: %(default)s)")
    fleet.add_argument("--a-day", type=int, default=4, help="interviews of a phone a day (default: %(default)s)")
    fleet.add_argument("--seed", type=int, default=1, help="the same seed makes the same up (default: %(default)s)")
    fleet.set_defaults(run=_fleet)

    check = commands.add_parser("check", help="check a questionnaire (workbook .xlsx, folder of .csv, or .json)")
    check.add_argument("file", type=Path)
    check.add_argument("--json", action="store_true", help="findings as JSON")
    check.set_defaults(run=_check)

    rehearse = commands.add_parser("rehearse", help="make up interviews and say what comes of them")
    rehearse.add_argument("file", type=Path)
    rehearse.add_argument("-n", "--interviews", type=int, default=500, help="how many (default: %(default)s)")
    rehearse.add_argument("--seed", type=int, default=1, help="the same seed makes the same up (default: %(default)s)")
    rehearse.add_argument("--day", type=_moment, help="as if on this day (YYYY-MM-DD; default: today)")
    rehearse.add_argument("--out", type=Path, help="a folder for the report, the interviews and the data set")
    rehearse.set_defaults(run=_rehearse)

    prove = commands.add_parser("prove", help="prove which questions can be reached and which checks can fail")
    prove.add_argument("file", type=Path)
    prove.add_argument("--day", type=_moment, help="as if on this day (YYYY-MM-DD; default: today)")
    prove.add_argument("--json", action="store_true", help="the proof as JSON")
    prove.set_defaults(run=_prove)

    draw = commands.add_parser("draw", help="draw a sample from a frame (.csv or .xlsx); the same seed draws the same")
    draw.add_argument("frame", type=Path)
    draw.add_argument("--by", choices=("simple", "systematic", "stratified", "pps", "two-stage"), required=True)
    draw.add_argument("--size", type=int, required=True, help="how many; with two stages, in each cluster")
    draw.add_argument("--strata", metavar="COLUMN", help="what the strata are (stratified)")
    draw.add_argument(
        "--allocate", choices=("proportional", "equal", "neyman"), default="proportional",
        help="how the strata share the size (default: %(default)s)",
    )  # fmt: skip
    draw.add_argument("--spread", metavar="COLUMN", help="the numbers whose spread counts (neyman)")
    draw.add_argument("--measure", metavar="COLUMN", help="the measure of size (pps, two-stage)")
    draw.add_argument("--cluster", metavar="COLUMN", help="what the clusters are (two-stage)")
    draw.add_argument("--clusters", type=int, help="how many clusters (two-stage)")
    draw.add_argument("--reserves", type=int, default=0, help="who stands by, in each stratum or cluster")
    draw.add_argument("--seed", type=int, required=True, help="any whole number; kept, it draws the same again")
    draw.add_argument("--out", type=Path, required=True, help="the .csv file to write")
    draw.set_defaults(run=_draw)

    linking = commands.add_parser("link", help="find rows of two tables (.csv or .xlsx) that may be the same unit")
    linking.add_argument("left", type=Path)
    linking.add_argument("right", type=Path)
    linking.add_argument(
        "--compare",
        required=True,
        metavar="LEFT=RIGHT:HOW,…",
        help="columns held against each other: text, date, number, exact",
    )
    linking.add_argument(
        "--block", required=True, metavar="LEFT,…",
        help="rows that agree in one of these are looked at; several at once: ward+born",
    )  # fmt: skip
    linking.add_argument("--seed", type=int, default=1, help="the same seed gives the same (default: %(default)s)")
    linking.add_argument("--out", type=Path, required=True, help="the folder to write pairs.csv and weights.csv to")
    linking.set_defaults(run=_link)

    user = commands.add_parser(
        "add-administrator", help="add somebody who administers the server; asks for the passphrase"
    )
    user.add_argument("login")
    user.add_argument("name")
    user.add_argument("--folder", type=Path, default=FOLDER)
    user.set_defaults(run=_add_administrator)

    backup = commands.add_parser("backup", help="write everything to one file; the server may be running")
    backup.add_argument("target", type=Path)
    backup.add_argument("--folder", type=Path, default=FOLDER)
    backup.set_defaults(run=_backup)
    restore = commands.add_parser("restore", help="unpack a backup into a new folder")
    restore.add_argument("source", type=Path)
    restore.add_argument("--folder", type=Path, required=True)
    restore.set_defaults(run=_restore)
    return parser


def _moment(day: str) -> datetime:
    """Noon of the day that an argument names."""
    try:
        return datetime.combine(date.fromisoformat(day), datetime.min.time(), UTC) + timedelta(hours=12)
    except ValueError:
        raise argparse.ArgumentTypeError(f"there is no day “{day}”; write it as 2027-03-14") from None


def _serve(options: argparse.Namespace) -> int:
    from skavo.logs import set_up
    from skavo.server import Server

    set_up()
    settings = _settings(options)
    server = Server(settings.folder, settings.host, settings.port, settings=settings)
    print(f"Skavo serves {settings.folder} on {settings.address or server.address}", flush=True)
    if server.first_code:
        print(f"Nobody administers it yet. Open that address and begin with the code {server.first_code}", flush=True)
    server.serve()
    return 0


def _settings(options: argparse.Namespace) -> Settings:
    from skavo.settings import read_settings

    return read_settings(
        options.settings, folder=options.folder, host=options.host, port=options.port,
        public_address=options.public_address, trusted_proxies=options.trusted_proxies,
    )  # fmt: skip


def _doctor(options: argparse.Namespace) -> int:
    from skavo.doctor import examine

    found = examine(_settings(options), options.backups)
    for finding in found:
        print(f"{'well ' if finding.is_well else 'ILL  '} {finding.what:12} {finding.words}")
        if not finding.is_well:
            print(f"{'':19}{finding.mend}")
    return 0 if all(finding.is_well for finding in found) else 1


def _demo(options: argparse.Namespace) -> int:
    from skavo.demo.build import INTERVIEWS, add_desk_work, build_study, demo_exists, run_fleet
    from skavo.demo.people import PASSWORD, STAFF
    from skavo.server import Server
    from skavo.standins.mailbox import Mailbox

    server = Server(options.folder, options.host, options.port, mailbox=Mailbox())
    server.start()
    if not demo_exists(server.store):
        began = time.monotonic()
        print("Making the demo study …")
        study_id = build_study(server.store)
        run_fleet(server.store, study_id, server.address, interviews=options.interviews or INTERVIEWS)
        add_desk_work(server.store, study_id)
        print(f"  made in {time.monotonic() - began:.0f} s")
    print(
        f"\nSkavo is ready:  {server.address}\nOn a phone:      {server.address}field/\n\nSign in (passphrase for all: {PASSWORD})"
    )
    for login, name, role in STAFF:
        print(f"  {login:6} {name:12} {role.replace('_', ' ')}")
    if options.only_make:
        server.stop()
        return 0
    if options.live:
        from skavo.demo.fieldwork import go_live

        go_live(server.store, server.address)
        print("\nThe phones go on handing in.", end="")
    print("\nStop with Ctrl+C.", flush=True)
    server.wait()
    return 0


def _fleet(options: argparse.Namespace) -> int:
    from skavo.demo.fieldwork import send_out
    from skavo.server import Server
    from skavo.store.database import open_store

    size = {"phones": options.phones, "days": options.days, "a_day": options.a_day, "seed": options.seed}
    if options.address:
        handed_in = send_out(open_store(options.folder), options.study, options.address, **size)
    else:
        server = Server(options.folder, "127.0.0.1", 0, limits=False)
        server.start()
        try:
            handed_in = send_out(server.store, options.study, server.address, **size)
        finally:
            server.stop()
    print(f"{handed_in.interviews} interviews handed in, every one with its receipt.")
    return 0


def _check(options: argparse.Namespace) -> int:
    from skavo.formats.check_file import check_file
    from skavo.formats.workbook.faults import told_faults

    faults = check_file(options.file).faults
    if options.json:
        print(json.dumps([asdict(f) for f in faults], ensure_ascii=False, indent=1))
    else:
        print(told_faults(faults))
    return 1 if any(f.severity == "error" for f in faults) else 0


def _sound_release(path: Path) -> Release:
    """The compiled questionnaire of a file; SkavoError where it has errors."""
    from skavo.core.interview.release import Release
    from skavo.core.questionnaire.findings import counted
    from skavo.formats.check_file import check_file

    checked = check_file(path)
    errors = sum(1 for f in checked.faults if f.severity == "error")
    if checked.compiled.release is None or errors:
        raise SkavoError("has_errors", f"{path.name} has {counted(errors, 'error')}. See them with: skavo check {path}")
    return Release(checked.compiled.release)


def _rehearse(options: argparse.Namespace) -> int:
    from skavo.core.rehearsal.rehearse import rehearse
    from skavo.formats.rehearsal_files import write_rehearsal

    rehearsal = rehearse(_sound_release(options.file), options.interviews, options.seed, now=options.day)
    print(f"{rehearsal.made} of {rehearsal.wanted} interviews made up (seed {rehearsal.seed}, on {rehearsal.day})")
    if rehearsal.minutes is not None:
        middle, low, high = rehearsal.minutes
        print(f"expected duration: {middle} minutes (a tenth below {low}, a tenth above {high})")
        print(f"  {rehearsal.assumption}")
    for unmet in rehearsal.unmet:
        print(f"could not be met in {unmet.interviews}: {unmet.variable}: {unmet.rule} (broken {unmet.tries} times)")
    if rehearsal.never_asked:
        print(f"never asked: {', '.join(rehearsal.never_asked)}")
    if options.out:
        files = write_rehearsal(rehearsal, options.out)
        print(f"{len(files)} files in {options.out}")
    return 0 if rehearsal.made == rehearsal.wanted else 1


def _prove(options: argparse.Namespace) -> int:
    from skavo.core.rehearsal.proof.prove import prove

    def say(fraction: float, words: str) -> None:
        if sys.stderr.isatty():
            print(f"\r{fraction:4.0%}  {words:40}", end="", file=sys.stderr, flush=True)

    proof = prove(_sound_release(options.file), options.day or datetime.now(UTC), say)
    if sys.stderr.isatty():
        print("\r" + " " * 50 + "\r", end="", file=sys.stderr)
    if options.json:
        print(json.dumps(asdict(proof), ensure_ascii=False, indent=1))
    else:
        _print_proof(proof)
    return 1 if proof.is_faulty else 0


def _print_proof(proof: Proof) -> None:
    print(f"{len(proof.reached)} questions can be reached (on {proof.day} or within two years)")
    for told in proof.dead_ends:
        print(f"dead end: {told.variable}: {told.why}")
    for told in proof.unreachable:
        print(f"never asked: {told.variable}: {told.why}")
    for check in proof.checks:
        if check.verdict != "sound":
            print(f"{check.verdict}: {check.variable}: {check.rule}: {check.why}")
    for pair in proof.contradictions:
        print(f"contradiction: {pair.first}: {pair.first_rule} and {pair.second}: {pair.second_rule}")
    for told in proof.undecided:
        print(f"undecided: {told.variable}: {told.why}")
    print(f"{len(proof.checks)} hard checks, {len(proof.tests)} test interviews")
    for missed in proof.unvisited:
        print(f"no test interview: {missed.branch}: {missed.why}")


def _draw(options: argparse.Namespace) -> int:
    from skavo.core.sampling.plan import SamplePlan, draw_sample
    from skavo.formats.frame import TableFrame, read_frame, sample_file

    frame = read_frame(options.frame)
    plan = SamplePlan.model_construct(
        by=options.by, size=options.size, strata=options.strata or "", allocate=options.allocate,
        spread=options.spread or "", measure=options.measure or "", cluster=options.cluster or "",
        clusters=options.clusters or 0, reserves=options.reserves, seed=options.seed,
    )  # fmt: skip
    sample = draw_sample(plan, TableFrame(frame))
    try:
        options.out.write_bytes(sample_file(frame, sample))
    except OSError as error:
        raise DataError("not_written", f"{options.out} cannot be written: {error.strerror}.") from None
    certain = f", {len(sample.certain)} of them certain" if sample.certain else ""
    print(f"{len(sample.drawn):,} of {frame.height:,} drawn{certain}, seed {options.seed}: {options.out}")
    for stratum in sample.strata:
        print(f"  {stratum.name}: {stratum.drawn:,} of {stratum.count:,}")
    return 0


def _link(options: argparse.Namespace) -> int:
    from skavo.core.linking.compare import read_comparison
    from skavo.core.linking.link import link
    from skavo.formats.pairs import pairs_file, rows_of, weights_file

    comparisons = [read_comparison(one) for one in options.compare.split(",") if one.strip()]
    blocks = [one.strip() for one in options.block.split(",") if one.strip()]
    left, right = rows_of(options.left), rows_of(options.right)
    linked = link(left.cells, right.cells, comparisons, blocks, seed=options.seed)
    try:
        options.out.mkdir(parents=True, exist_ok=True)
        (options.out / "pairs.csv").write_bytes(pairs_file(linked, left.numbers, right.numbers))
        (options.out / "weights.csv").write_bytes(weights_file(linked))
    except OSError as error:
        raise DataError("not_written", f"{options.out} cannot be written: {error.strerror}.") from None
    verdicts = [pair.verdict for pair in linked.pairs]
    print(f"{len(verdicts):,} pairs of {len(left.cells):,} and {len(right.cells):,} rows: {options.out / 'pairs.csv'}")
    for verdict in ("match", "doubtful", "apart"):
        print(f"  {verdict}: {verdicts.count(verdict):,}")
    return 0


def _add_administrator(options: argparse.Namespace) -> int:
    from getpass import getpass

    from skavo.store.database import open_store
    from skavo.store.models import Person
    from skavo.store.people import free_login
    from skavo.web.passphrases import check_passphrase, hash_passphrase

    asked = getpass("Passphrase: ") if sys.stdin.isatty() else sys.stdin.readline().rstrip("\n")
    check_passphrase(asked, [options.name, options.login])
    with open_store(options.folder).session() as session:
        login = free_login(session, options.login)
        person = Person(login=login, name=options.name, password_hash=hash_passphrase(asked), is_administrator=True)
        session.add(person)
    print(f"{options.name} administers this server and signs in as {login}.")
    return 0


def _backup(options: argparse.Namespace) -> int:
    from skavo.store.backup import write_backup

    os.umask(0o077)
    print(f"{write_backup(options.folder, options.target)} files in {options.target}")
    return 0


def _restore(options: argparse.Namespace) -> int:
    from skavo.store.backup import restore_backup

    os.umask(0o077)
    print(f"{restore_backup(options.source, options.folder)} files restored to {options.folder}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
