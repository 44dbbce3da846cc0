"""The console script `hailstone`.

Exit codes: 0 done, 1 the input was understood and refused (reasons on standard error, one a line),
2 wrong usage. `--json` prints one JSON document on standard output and nothing else.
"""

from __future__ import annotations

import argparse
import json
import os
import sys
from collections.abc import Callable, Collection, Iterable, Sequence
from functools import cache
from getpass import getpass
from pathlib import Path

from electrics.errors import InputError, TableError
from electrics.formats.csv_rows import decode
from electrics.formats.readings_csv import read_readings
from electrics.reference.conductor import WireStandard
from electrics.vocabulary import ALONE, Arrangement, Control, Function

__all__ = ["main"]


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one subcommand and return its exit code."""
    options = _parser().parse_args(arguments)
    try:
        code: int = options.run(options)
    except (InputError, TableError) as error:
        print(error, file=sys.stderr)
        return 1
    except BrokenPipeError:
        sys.stderr.close()
        return 0
    return code


def _reads(command: argparse.ArgumentParser, name: str, what: str, run: Callable[[argparse.Namespace], int]) -> None:
    """A command that reads one JSON file, or standard input, and can answer in JSON."""
    command.add_argument(name, metavar=f"{name.upper()}.json", help=f"{what}, or - for standard input")
    command.add_argument("--json", action="store_true", help="print one JSON document")
    command.set_defaults(run=run)


@cache
def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="hailstone", description="From the first probe to the signed test sheet.")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    identify = commands.add_parser(
        "identify",
        help="identify every wire in a readings file, and what to measure next",
        description="Reads a readings file (docs/formats/readings.md) and weighs every wire.",
    )
    identify.add_argument("readings", metavar="READINGS.csv", help="readings file, or - for standard input")
    identify.add_argument("--arrangement", choices=[str(each) for each in Arrangement], help="when it is known")
    identify.add_argument(
        "--not-fitted",
        type=_controls,
        default=frozenset(),
        metavar="CONTROLS",
        help="what the vehicle lacks: fog_rear,park_left",
    )
    identify.add_argument(
        "--for",
        dest="needed",
        type=_functions,
        default=None,
        metavar="FUNCTIONS",
        help="what a job taps: reverse,tail; advice is for these and a ground alone",
    )
    identify.add_argument("--no-ground", action="store_true", help="with --for: the job needs no ground here")
    identify.add_argument("--all-wires", action="store_true", help="the file lists every wire of each place")
    identify.add_argument("--solo", action="store_true", help="nobody is there to hold the pedal")
    identify.add_argument("--json", action="store_true", help="print one JSON document")
    identify.set_defaults(run=_identify)

    simulate = commands.add_parser(
        "simulate",
        help="solve a circuit file in every state and flash phase, and say what is wrong",
        description="Reads a circuit file (docs/formats/circuit.md).",
    )
    _reads(simulate, "circuit", "circuit file", _simulate)
    simulate.add_argument("--state", action="append", default=[], metavar="S", help="like brake+left; repeatable")
    simulate.add_argument(
        "--ohms",
        nargs=2,
        action="append",
        default=[],
        metavar=("A", "B"),
        help="what an ohmmeter shows between two nodes with the battery off; repeatable",
    )

    spice = commands.add_parser("spice", help="write a circuit in one state as a SPICE deck")
    spice.add_argument("circuit", metavar="CIRCUIT.json", help="circuit file, or - for standard input")
    spice.add_argument("--state", required=True, metavar="S", help="like brake+left")
    spice.add_argument("--dark", action="store_true", help="the dark flash phase instead of the lit one")
    spice.set_defaults(run=_spice)

    hookup = commands.add_parser(
        "hookup",
        help="check every hook-up for the behavior you want",
        description="Reads a hook-up job (docs/formats/hookup-job.md).",
    )
    _reads(hookup, "job", "hook-up job", _hookup)
    planned = commands.add_parser(
        "plan",
        help="from a job file to parts, wires, joints, steps and test lines",
        description="Reads a job file (docs/formats/job.md).",
    )
    _reads(planned, "job", "job file", _plan)
    exported = commands.add_parser(
        "export", help="write a job as its file", description="Writes a job file (docs/formats/job.md)."
    )
    exported.add_argument("job", type=int, metavar="JOB", help="the job's number, as in the address of its pages")
    exported.set_defaults(run=_export)
    imported = commands.add_parser(
        "import",
        help="take a job file in as a new job; nothing that is there is overwritten",
        description="Reads a job file (docs/formats/job.md).",
    )
    imported.add_argument("file", metavar="JOB.json", help="job file, or - for standard input")
    imported.add_argument("--user", default="", metavar="NAME", help="who takes it in; not needed where only one is")
    imported.set_defaults(run=_import)
    corrected = commands.add_parser(
        "correct",
        help="list the problems a job causes, and try every fix",
        description="Reads a job file (docs/formats/job.md).",
    )
    _reads(corrected, "job", "job file", _correct)

    size = commands.add_parser(
        "size", help="size wire, fuse, drop, diode, relay or load resistor, with rule and source"
    )
    size.add_argument("what", choices=("wire", "fuse", "drop", "diode", "relay", "resistor"))
    size.add_argument(
        "--amps", type=float, required=True, help="continuous load, A; of a resistor what the LEDs draw"
    )
    size.add_argument("--out", type=float, default=1.0, help="feed length, m (default 1)")
    way_back = size.add_mutually_exclusive_group()
    way_back.add_argument("--back", type=float, help="ground length, m (default: same as the feed)")
    way_back.add_argument("--chassis", action="store_true", help="the chassis is the return")
    size.add_argument("--system", type=int, choices=(6, 12, 24), default=12, help="6, 12 or 24 V (default 12)")
    size.add_argument(
        "--standard", choices=[str(each) for each in WireStandard], default="awg", help="how the wire is sold"
    )
    size.add_argument("--size", default="18", help="wire size for fuse and drop (default 18)")
    size.add_argument("--suppressed", action="store_true", help="a suppressor stands before the diode")
    size.add_argument("--threshold", type=float, default=3.15, help="load the flasher expects, A (default 3.15)")
    size.add_argument("--bulbs", type=float, default=0.0, help="current of the bulbs you keep, A (default 0)")
    size.add_argument("--count", type=int, default=1, help="resistors that share it (default 1)")
    size.add_argument("--held", action="store_true", help="the brake or the tail switch can hold the circuit on")
    size.add_argument("--mount", default="metal", help="metal, beam, painted or free_air (default metal)")
    size.add_argument("--ambient", type=float, default=40.0, help="air around the resistor, C (default 40)")
    size.add_argument("--tolerance", type=float, default=5.0, help="of the resistor, %% (default 5)")
    size.add_argument("--json", action="store_true", help="print one JSON document")
    size.set_defaults(run=_size)

    demo = commands.add_parser("demo", help="make the database, load the demo when it is empty, and serve")
    demo.add_argument("--reset", action="store_true", help="throw away what was entered and start over")
    demo.add_argument("--no-serve", action="store_true", help="only prepare the database")
    demo.set_defaults(run=_demo)

    user = commands.add_parser("user", help="let somebody sign in, or give them a new password")
    user.add_argument("name", help="the name to sign in with")
    user.set_defaults(run=_user)

    serve = commands.add_parser("serve", help="serve the pages, also to other devices in the workshop")
    serve.add_argument("--host", default="0.0.0.0", help="address to listen on (default: all)")
    serve.add_argument("--port", type=_port, default=_default_port(), help="default: PORT, else 8000")
    serve.set_defaults(run=_serve)
    return parser


def _controls(text: str) -> frozenset[Control]:
    return frozenset(map(Control, _listed(text, "control", set(Control) - ALONE, Control)))


def _functions(text: str) -> tuple[Function, ...]:
    return tuple(map(Function, _listed(text, "function", set(Function), Function)))


def _listed(text: str, what: str, known: Collection[str], every: Iterable[str]) -> list[str]:
    """Words between commas, each of them known; the refusal lists `every` word there is."""
    words = [word.strip() for word in text.split(",") if word.strip()]
    unknown = [word for word in words if word not in known]
    if unknown:
        raise argparse.ArgumentTypeError(f"{unknown[0]} is no {what}. {what.capitalize()}s are: {', '.join(every)}.")
    return words


def _port(text: str) -> int:
    if not text.isdigit() or not 1 <= int(text) <= 65535:
        raise argparse.ArgumentTypeError(f"{text} is no port. Expected 1 to 65535.")
    return int(text)


def _default_port() -> str:
    return os.environ.get("PORT") or "8000"


def _identify(options: argparse.Namespace) -> int:
    from electrics.identify.needed import Needed
    from hailstone.cli.identify import as_text, identify_rows

    if options.no_ground and options.needed is None:
        print("--no-ground goes with --for: say what the job taps.", file=sys.stderr)
        return 2
    data = _read(options.readings)
    if data is None:
        return 2
    arrangement = Arrangement(options.arrangement) if options.arrangement else None
    rows = read_readings(decode(data))
    results = identify_rows(
        rows,
        arrangement,
        solo=options.solo,
        not_fitted=options.not_fitted,
        all_wires=options.all_wires or None,
        needed=None if options.needed is None else Needed.each(options.needed, ground=not options.no_ground),
    )
    if options.json:
        print(json.dumps({"access_points": [found for _, found in results]}, indent=2, ensure_ascii=False))
    else:
        print("\n\n".join(as_text(belief, found) for belief, found in results))
    return 0


def _simulate(options: argparse.Namespace) -> int:
    from electrics.circuit.ohmmeter import ohms_between
    from hailstone.cli.circuit import as_document, simulate_text
    from hailstone.wording.circuit import ohms_sentence, simulation_text

    data = _read(options.circuit)
    if data is None:
        return 2
    simulation, found = simulate_text(decode(data, "a circuit file, JSON"), options.state)
    ohms = [(first, second, ohms_between(simulation.network, first, second)) for first, second in options.ohms]
    if options.json:
        print(json.dumps(as_document(simulation, found, ohms), indent=2, ensure_ascii=False))
    else:
        print(simulation_text(simulation, found))
        for first, second, ohm in ohms:
            print(ohms_sentence(first, second, ohm))
    return 0


def _spice(options: argparse.Namespace) -> int:
    from hailstone.cli.circuit import deck_of

    data = _read(options.circuit)
    if data is None:
        return 2
    print(deck_of(decode(data, "a circuit file, JSON"), options.state, dark=options.dark), end="")
    return 0


def _hookup(options: argparse.Namespace) -> int:
    from hailstone.cli.hookup import hookup_document, hookup_text

    data = _read(options.job)
    if data is None:
        return 2
    return _print(hookup_document(decode(data, "a hook-up job, JSON")), hookup_text, options.json)


def _plan(options: argparse.Namespace) -> int:
    from hailstone.cli.plan import plan_document, plan_text

    data = _read(options.job)
    if data is None:
        return 2
    return _print(plan_document(decode(data, "a job file, JSON")), plan_text, options.json)


def _correct(options: argparse.Namespace) -> int:
    from hailstone.cli.correct import correct_document, correct_text

    data = _read(options.job)
    if data is None:
        return 2
    return _print(correct_document(decode(data, "a job file, JSON")), correct_text, options.json)


def _size(options: argparse.Namespace) -> int:
    from hailstone.cli.hookup import size_document, size_text

    names = {
        "wire": ("amps", "out", "back", "system", "standard"),
        "fuse": ("amps", "standard", "size"),
        "drop": ("amps", "out", "back", "system", "standard", "size"),
        "diode": ("amps", "system", "suppressed"),
        "relay": ("amps", "system"),
        "resistor": ("amps", "system", "threshold", "bulbs", "count", "held", "mount", "ambient", "tolerance"),
    }[options.what]
    if options.back is None:
        options.back = 0.0 if options.chassis else options.out
    document = size_document(options.what, {name: getattr(options, name) for name in names})
    return _print(document, size_text, options.json)


def _print(document: dict[str, object], as_text: Callable[[dict[str, object]], str], is_json: bool) -> int:
    print(json.dumps(document, indent=2, ensure_ascii=False) if is_json else as_text(document))
    return 0


def _read(path: str) -> bytes | None:
    """The bytes of a file, or of standard input for `-`; None, said on standard error, where it cannot be read."""
    try:
        return sys.stdin.buffer.read() if path == "-" else Path(path).read_bytes()
    except OSError as error:
        print(f"{path} cannot be read: {error.strerror}.", file=sys.stderr)
        return None


def _export(options: argparse.Namespace) -> int:
    from hailstone.cli.files import export_job

    print(export_job(options.job), end="")
    return 0


def _import(options: argparse.Namespace) -> int:
    from hailstone.cli.files import import_job

    data = _read(options.file)
    if data is None:
        return 1
    for line in import_job(decode(data, "a job file, JSON"), options.user):
        print(line, file=sys.stderr)
    return 0


def _demo(options: argparse.Namespace) -> int:
    from hailstone.cli.serving import prepare_demo, serve

    prepare_demo(reset=options.reset)
    if options.no_serve:
        return 0
    serve("127.0.0.1", _port(_default_port()), with_demo_login=True)


def _user(options: argparse.Namespace) -> int:
    from hailstone.cli.serving import prepare_database

    prepare_database()
    from hailstone.shop.people import set_password

    password = getpass("Password: ") if sys.stdin.isatty() else sys.stdin.readline().rstrip("\n")
    set_password(options.name, password)
    print(f"{options.name} can sign in.", file=sys.stderr)
    return 0


def _serve(options: argparse.Namespace) -> int:
    from hailstone.cli.serving import prepare_database, serve

    prepare_database()
    serve(options.host, options.port)
