"""`hailstone correct` and `hailstone size resistor`: effects and cures as documents and as text. No database."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from electrics.correct.effects import Effect, causes_of
from electrics.correct.resistor import Need, fit_resistor, window
from electrics.errors import FactError
from electrics.formats.json_file import FileError
from electrics.job.better import best_plan
from electrics.job.correction import Tried, correct, try_proposal
from electrics.job.cures.base import Proposal
from electrics.job.cures.loads import FREE_AIR
from electrics.job.file.reading import read_job_file
from electrics.job.judging import complaint_findings, findings_of
from electrics.job.plan import plan
from electrics.job.sets import all_at_once, first_set
from electrics.reference.mounts import mounts
from electrics.reference.usual import HIGHEST_V, LOWEST_V, system_scale
from hailstone.wording import correct as wording
from hailstone.wording.complaints import complaint_sentence
from hailstone.wording.cures import REFUSALS
from hailstone.wording.findings import finding_document, finding_text

__all__ = ["correct_document", "correct_text", "resistor_size"]


def correct_document(text: str) -> dict[str, Any]:
    """What `hailstone correct --json` prints (docs/formats/correct.schema.json).

    Raises
    ------
    FileError
        The job cannot be understood.
    """
    try:
        found = best_plan(plan(read_job_file(text)))
    except FactError as error:
        raise FileError([str(error)]) from error
    correction = correct(found)
    tried = {proposal: try_proposal(found, proposal, correction.before) for proposal in correction.open}
    forbidden = [finding_text(each, found.hookup) for each in found.hookup.forbidden]
    is_taken, causes = bool(correction.taken), causes_of(correction.before)
    several = all_at_once(found, correction, tried, first_set(found, correction))
    answers = complaint_findings(found, correction.before)
    complaint = complaint_sentence(found.facts.complaint, correction.before, found.facts.vehicle.flasher)
    return {
        "sentence": wording.what_next(
            correction.before,
            correction.now,
            is_taken=is_taken,
            forbidden=forbidden,
            complaint=complaint if answers else "",
            has_fix=any(each is not None and each.cured for each in tried.values()) or several is not None,
        ),
        "complaint": complaint,
        "together": _together(several),
        "findings": [finding_document(each, found.hookup) for each in findings_of(found, correction.now)],
        "upset": [
            {**_effect(effect, is_cause=effect in causes), "why": wording.why(effect, correction.sides)}
            for effect in correction.before
        ],
        "used": [cure.cure for cure in correction.taken],
        "still_upset": [_effect(effect) for effect in correction.now] if correction.taken else [],
        "cures": [_cure(proposal, tried[proposal]) for proposal in correction.open],
    }


def correct_text(document: Mapping[str, Any]) -> str:
    """The same for people."""
    lines = [document["sentence"]]
    if document["complaint"] and document["complaint"] != document["sentence"]:
        lines.append(document["complaint"])
    still, before = document["still_upset"], "Without it: " if document["used"] else ""
    lines += [f"  {effect['text']} {effect['also']}".rstrip() for effect in still]
    lines += [
        f"  {before}{effect['text']} {effect['also']}".rstrip() for effect in document["upset"] if effect["is_cause"]
    ]
    if document["together"]:
        lines.append(f"{document['together']['title']}: {document['together']['verdict']}.")
    for cure in document["cures"]:
        lines.append(f"{cure['title']}: {cure['verdict']}. {cure['text']}")
        lines += [f"  {cost}" for cost in cure["costs"]]
    return "\n".join(lines)


def resistor_size(facts: Mapping[str, Any]) -> dict[str, Any]:
    """A load resistor by what flasher or monitor waits for; FactError for what cannot be."""
    need = Need(
        facts["threshold"],
        facts["amps"],
        facts["bulbs"],
        count=facts["count"],
        is_held=facts["held"],
        system_v=facts["system"],
    )
    limits = window(need, facts["tolerance"] / 100)
    fit = fit_resistor(need, mount=facts["mount"], ambient_c=facts["ambient"], tolerance=facts["tolerance"] / 100)
    if facts["mount"] == FREE_AIR:
        raise FactError("mount", REFUSALS["free_air"])
    if fit is not None and not fit.survives:
        most_c = mounts()[fit.mount].limit_c
        raise FactError(
            "mount",
            f"{fit.ohm:g} Ω makes {fit.heat_w:.0f} W of heat; on this mount even the largest case reaches "
            f"{fit.settled_c:.0f} °C, limit {most_c:.0f} °C. Use bare metal, or another fix.",
        )
    result: dict[str, Any] = {"missing_a": _tidy(limits.missing_a)}
    if limits.missing_a > 0:
        result["most_ohm"] = _tidy(limits.most_ohm)
    if fit is not None:
        result |= {
            "ohm": fit.ohm,
            "series": fit.series,
            "count": fit.count,
            "amps_a": _tidy(fit.amps_a),
            "watts_w": _tidy(fit.watts_w),
            "heat_w": _tidy(fit.heat_w),
            "case_w": fit.case_w,
            "settled_c": _tidy(fit.settled_c),
        }
    scale = system_scale(facts["system"])
    rule = (
        f"The largest value that passes at {LOWEST_V * scale:g} V with its tolerance; heat at "
        f"{HIGHEST_V * scale:g} V; across feed and ground, never in series, never in "
        "free air"
    )
    if fit is None:
        rule += "; nothing is missing, or no value passes"
    return {
        "result": result,
        "rule": rule,
        "source": "IEC 60063 values, data sheets of housed resistors (from memory)",
    }


def _together(several: tuple[tuple[Proposal, ...], Tried] | None) -> dict[str, Any] | None:
    """The fixes that together leave least, as one; None where one is enough."""
    if several is None:
        return None
    proposals, tried = several
    return {
        "cures": [proposal.cure for proposal in proposals],
        "title": wording.together_title(proposals),
        "verdict": wording.VERDICTS[tried.verdict],
        "left": [_effect(effect) for effect in tried.left],
        "new": [_effect(effect) for effect in tried.new],
    }


def _effect(effect: Effect, *, is_cause: bool = True) -> dict[str, Any]:
    finding = effect.finding
    return {
        "rule": effect.rule,
        "severity": finding.severity,
        "subject": finding.subject,
        "subjects": list(effect.subjects),
        "side": effect.side,
        "states": list(effect.states),
        "volts": list(effect.volts),
        "value": _tidy(finding.value),
        "limit": _tidy(finding.limit),
        "unit": finding.unit,
        "by": finding.by,
        "road": list(finding.road),
        "is_cause": is_cause,
        "text": wording.effect_title(effect),
        "also": wording.effect_states(effect),
    }


def _cure(proposal: Proposal, tried: Tried | None) -> dict[str, Any]:
    fit, decision = proposal.fit, proposal.decision
    return {
        "cure": proposal.cure,
        "title": wording.cure_title(proposal),
        "verdict": wording.verdict_words(proposal, tried),
        "leads": list(proposal.leads),
        "ohm": fit.ohm if fit else None,
        "case_w": fit.case_w if fit else None,
        "mount": fit.mount if fit else "",
        "settled_c": _tidy(fit.settled_c) if fit else None,
        "part": decision.part if decision else "",
        "microfarad": decision.microfarad or None if decision else None,
        "ways": dict(decision.ways) if decision else {},
        "left": [_effect(effect) for effect in tried.left] if tried else [],
        "new": [_effect(effect) for effect in tried.new] if tried else [],
        "text": wording.proposal_sentence(proposal, tried),
        "costs": wording.cost_sentences(proposal, tried),
    }


def _tidy(value: float) -> float:
    return float(f"{value:.4g}")
