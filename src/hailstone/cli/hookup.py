"""`hailstone hookup` and `hailstone size`: what the core says, as documents and as text. No database."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from electrics.design.run import SHOP_RANGE_MM2, Run, choose_fuse, drop_v, wire_options
from electrics.design.sizing import CURRENT_MARGIN, REVERSE_V, choose_diode, choose_relay
from electrics.errors import FactError
from electrics.job.hookup_file import HookUpJob, read_job
from electrics.reference.conductor import HOT_C, WireStandard, conductor
from electrics.reference.usual import running_v
from electrics.ways.ranking import Judged
from hailstone.cli.correct import resistor_size
from hailstone.wording.circuit import finding_sentence
from hailstone.wording.hookup import OWN_SOURCES, first_wrong, form_text
from hailstone.wording.words import signal_name

__all__ = ["hookup_document", "hookup_text", "size_document", "size_text"]

LIMITS = {"amps": (0.001, 200.0, "A"), "out": (0.01, 100.0, "m"), "back": (0.0, 100.0, "m")}
"""What can be sized, by input: least, most and unit."""
SHOWN = 4
TRIED = 3
"""The best ways of each lead that are tried on the solved circuit; logic alone judges the others."""


def hookup_document(text: str) -> dict[str, Any]:
    """What `hailstone hookup --json` prints (docs/formats/hookup.schema.json).

    Raises
    ------
    FactError
        The job cannot be understood, or a lead has no source that gives what it wants.
    """
    job = read_job(text)
    return {"leads": [_lead(job, n) for n in range(len(job.leads))]}


def hookup_text(document: Mapping[str, Any]) -> str:
    """The same for people."""
    lines = []
    for lead in document["leads"]:
        lines.append(f"{lead['lead']}: {lead['wanted']}")
        for each in lead["candidates"]:
            lines.append(f"  {'fits' if each['right'] else 'does not fit'}: {each['text']}")
            if each["wrong"]:
                lines.append(f"    wrong in {len(each['wrong'])} states: {each['first_wrong']}")
            lines += [f"    refused: {rule}" for rule in each["refusals"]]
            lines += [f"    upsets: {sentence}" for sentence in each["upsets"]]
    return "\n".join(lines)


def size_document(what: str, facts: Mapping[str, Any]) -> dict[str, Any]:
    """What `hailstone size --json` prints (docs/formats/size.schema.json): result, rule, inputs and source.

    Raises
    ------
    FactError
        A value that cannot be, or nothing that bears the load.
    """
    for name, (low, high, unit) in LIMITS.items():
        if name in facts and not low <= facts[name] <= high:
            raise FactError(name, f"{name}: {facts[name]:g} cannot be. Expected {low:g} to {high:g} {unit}.")
    return {"what": what, "inputs": dict(facts), **_SIZES[what](facts)}


def size_text(document: Mapping[str, Any]) -> str:
    """The same for people."""
    result = "; ".join(_figure(name, value) for name, value in document["result"].items() if value is not None)
    return f"{result}\n{document['rule']} ({document['source']})"


UNITS = {"a": "A", "w": "W", "c": "°C", "v": "V", "m": "m", "ohm": "Ω", "mm2": "mm²", "k": "K"}
SAID = {"missing_a": "short", "most_ohm": "at most", "settled_c": "case reaches", "case_w": "case", "heat_w": "heat"}


def _figure(name: str, value: object) -> str:
    """`4.5 A`, `case reaches 144 °C`: a figure as people say it."""
    stem, _, suffix = name.rpartition("_")
    unit = UNITS.get(suffix if stem else name, "")
    said = SAID.get(name, stem.replace("_", " ") if unit else name.replace("_", " "))
    return f"{said} {value} {unit}".strip()


def _lead(job: HookUpJob, n: int) -> dict[str, Any]:
    lead = job.leads[n]
    found = job.judged(lead, at_least=TRIED)
    if not found:
        raise FactError("leads", f"{lead.id}: nothing here can give it; it takes a relay on a positive feed.")
    return {
        "lead": lead.id,
        "wanted": lead.wanted.text,
        "candidates": [_candidate(job, n, each) for each in _shown(found)],
    }


def _shown(found: Sequence[Judged]) -> list[Judged]:
    """The right ways, then the plain ones that are wrong, then the least wrong of the rest."""
    right = [each for each in found if each.is_right][:SHOWN]
    wrong = [each for each in found if not each.is_right]
    plain = [each for each in wrong if len(each.candidate.sources) == 1 and not each.candidate.form.parts]
    rest = [each for each in wrong if each not in plain]
    return right + [each for each in plain if not each.candidate.sources[0].is_own] + rest[:TRIED]


def _candidate(job: HookUpJob, n: int, judged: Judged) -> dict[str, Any]:
    lead, scenario = job.leads[n], job.scenarios[0]
    each, trial = judged.candidate, judged.trial
    text = form_text(each.form, [OWN_SOURCES.get(source.key, source.key) for source in each.sources])
    return {
        "way": each.form.id,
        "sources": [source.key for source in each.sources],
        "right": judged.is_right,
        "wrong": [str(state) for state in judged.wrong],
        "first_wrong": first_wrong(judged, lead, "lamp", job.scenarios) if judged.wrong else "",
        "refusals": list(each.refusals),
        "parts": each.form.parts,
        "cuts": each.cuts,
        "text": text[0].upper() + text[1:],
        "tried": trial is not None,
        "truth": [
            {
                "state": str(state),
                "wanted": signal_name(lead.wanted.signal(state, scenario)),
                "got": signal_name(trial.shows[state] if trial else each.signal(state)),
            }
            for state in (trial.shows if trial else each.states)
        ],
        "upsets": [finding_sentence(finding) for finding in trial.upsets] if trial else [],
    }


def _wire(facts: Mapping[str, Any]) -> dict[str, Any]:
    options = wire_options(_run(facts), WireStandard(facts["standard"]))
    fitting = [option for option in options if option.is_right and option.conductor.area_mm2 >= SHOP_RANGE_MM2]
    right = next(iter(fitting), None)
    if right is None or right.fuse is None:
        raise FactError(
            "amps", "No size of this wire meets both the drop limit and the fuse rule. Shorten the run or split it."
        )
    return {
        "result": {
            "wire": right.conductor.name,
            "drop_v": _tidy(right.drop_v),
            "fuse_a": right.fuse.rating_a,
        },
        "rule": f"Thinnest size of the shop range that drops at most 3 %, there and back at {HOT_C:g} C, with a fuse",
        "source": "ASTM B258, IEC 60028; common practice for drop and fuse",
    }


def _fuse(facts: Mapping[str, Any]) -> dict[str, Any]:
    wire = conductor(WireStandard(facts["standard"]), facts["size"])
    fuse = choose_fuse(facts["amps"], wire.largest_fuse_a)
    if fuse is None:
        raise FactError(
            "amps",
            f"No standard fuse both carries {facts['amps']:g} A and protects {wire.name}. Take a thicker wire.",
        )
    return {
        "result": {"fuse_a": fuse.rating_a, "colour": fuse.colour, "wire_limit_a": wire.largest_fuse_a},
        "rule": "Smallest standard fuse at or above 1.25 x the load and at or below what the wire bears",
        "source": "ISO 8820-3 ratings (from memory); common practice",
    }


def _drop(facts: Mapping[str, Any]) -> dict[str, Any]:
    wire = conductor(WireStandard(facts["standard"]), facts["size"])
    run = _run(facts)
    drop = drop_v(wire, run)
    return {
        "result": {"drop_v": _tidy(drop), "share": _tidy(drop / run.voltage_v)},
        "rule": f"Current x resistance per metre at {HOT_C:g} C x (feed + ground length); at most 0.5 V on 12 V",
        "source": "ASTM B258, IEC 60028",
    }


def _diode(facts: Mapping[str, Any]) -> dict[str, Any]:
    found = choose_diode(facts["amps"], facts["system"], is_suppressed=facts["suppressed"])
    return {
        "result": {
            "part": found.diode.part,
            "drop_v": _tidy(found.drop_v),
            "heat_w": _tidy(found.heat_w),
            "rise_k": _tidy(found.rise_k),
            "filament_light_lost": _tidy(found.light_lost),
        },
        "rule": f"Rated at least {CURRENT_MARGIN:g} x the load and {REVERSE_V[facts['system']]:g} V; "
        "a 60 V Schottky only behind a suppressor" + ("; it gets hot: leave it air" if found.is_hot else ""),
        "source": "data sheets of generic parts, ISO 16750-2, ISO 7637-2 (from memory)",
    }


def _relay(facts: Mapping[str, Any]) -> dict[str, Any]:
    found = choose_relay(facts["amps"], facts["system"])
    return {
        "result": {
            "contact_a": found.contact_a,
            "coil_ohm": found.coil_ohm,
            "coil_a": _tidy(found.coil_a),
            "pull_in_v": _tidy(found.pull_in_v),
            "pull_in_hot_v": _tidy(found.pull_in_hot_v),
        },
        "rule": "Contact rated at least 1.25 x the load; a hot coil pulls in later; diode across it, stripe to 86",
        "source": "ISO 7588 kind parts (from memory)",
    }


def _run(facts: Mapping[str, Any]) -> Run:
    return Run(facts["out"], facts["back"], facts["amps"], running_v(facts["system"]))


def _tidy(value: float) -> float:
    return float(f"{value:.4g}")


_SIZES = {"wire": _wire, "fuse": _fuse, "drop": _drop, "diode": _diode, "relay": _relay, "resistor": resistor_size}
