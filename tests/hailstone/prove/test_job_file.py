"""What was ticked, seen and signed goes out with the job file and answers the same lines when it is read."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from electrics.formats.json_file import FileError
from electrics.job.file.reading import read_whole
from electrics.prove.sheet import Outcome
from hailstone.cli.plan import plan_document
from hailstone.layers.overviews import job_overview
from hailstone.prove.services import TickState, record, tick
from stepped import keys_of

EXAMPLE = Path(__file__).parents[3] / "docs/formats/examples/job-reverse-pods.json"
pytestmark = pytest.mark.django_db


def sent(page, job):
    return page.get(f"/jobs/{job.id}/job.json").content.decode()


def test_ticks_and_results_answer_the_same_lines_on_the_command_line(page, hooked_up, who):
    tick(hooked_up, keys_of(hooked_up, "prove_tap")[0], TickState.NOT_NEEDED, who)
    lines = job_overview(hooked_up.id).proof.sheet.lines
    dark = next(line for line in lines if line.lamp and line.lamp.is_added)
    drop = next(line for line in lines if line.measure and line.measure.instrument)
    record(hooked_up, [dark], Outcome.FAIL, who, note="glows")
    record(hooked_up, [drop], Outcome.PASS, who, reading="0.2 V")
    ours = job_overview(hooked_up.id).proof.counts
    found = plan_document(sent(page, hooked_up))
    outcomes = [line["outcome"] for line in found["test_lines"]]
    assert {str(outcome): outcomes.count(str(outcome)) for outcome in Outcome} == {
        str(outcome): count for outcome, count in ours.items()
    }
    stands = {step["stands"] for step in found["steps"]}
    assert ("not needed" in stands, found["unanswering"]) == (True, 0)


def test_a_result_whose_line_asks_something_else_answers_nothing(page, hooked_up, who):
    lines = job_overview(hooked_up.id).proof.sheet.lines
    record(hooked_up, [line for line in lines if line.lamp], Outcome.PASS, who)
    document = json.loads(sent(page, hooked_up))
    lines = [each for each in document["results"] if "unit" in each]
    assert lines
    lines[0]["asked"] = "must:pulsed"
    found = plan_document(json.dumps(document))
    assert found["unanswering"] == 1


@pytest.mark.parametrize(
    ("part", "entry", "said"),
    [
        ("ticks", {"step": "dance"}, "ticks 1: there is no step “dance”"),
        ("ticks", {"step": "open_up", "needed": "no"}, "ticks"),
        ("results", {"state": "brake", "asked": "must:on", "outcome": "pass"}, "results 1: which line is it?"),
        ("results", {"measure": "feed_drop", "asked": "x", "outcome": "maybe"}, "outcome"),
        ("signatures", {"revision": 0, "who": "", "at": "", "verdict": ""}, "signatures"),
    ],
)
def test_records_that_cannot_be_are_refused_at_their_place(part, entry, said):
    text = json.dumps(json.loads(EXAMPLE.read_text()) | {part: [entry]})
    with pytest.raises(FileError, match="(?s)" + said.replace("?", ".")):
        read_whole(text)
