"""Every way that the search can come up with is said in words, with its parts, and names each wire that it taps once."""

from __future__ import annotations

from itertools import product

import pytest

from electrics.circuit.findings import RULES
from electrics.correct.rules import COMPLAINT_RULES
from electrics.design.forms import FORMS
from electrics.design.inputs import INPUTS
from electrics.design.sources import OWN
from electrics.job import rules as of_a_hook_up
from electrics.prove.rules import SIGNING_RULES, STEP_RULES
from electrics.vocabulary import Polarity
from electrics.ways.chains import INNER, OUTER, chain
from hailstone.wording import findings
from hailstone.wording import hookup as wording
from hailstone.wording.build import PARTS
from hailstone.wording.circuit import FINDINGS
from hailstone.wording.proof import AGAINST

CHAINED = [
    chain(outer, inner, place)
    for outer, inner in product(OUTER, INNER)
    for place, takes in enumerate(outer.takes)
    if takes is Polarity.POSITIVE
]
NAMES = ("pin 2 (tail)", "pin 5 (turn left)", "a fuse live with the key", "pin 9 (reverse)")


@pytest.mark.parametrize("form", [*FORMS, *dict.fromkeys(CHAINED)], ids=lambda form: form.id)
def test_a_form_names_each_of_its_sources_once_and_leaves_no_gap(form):
    names = NAMES[: len(form.takes)]
    text = wording.form_text(form, names)
    assert [text.count(name) for name in names] == [1] * len(names)
    assert "{" not in text
    assert len(form.takes) == len(form.loads)


@pytest.mark.parametrize("form", [*FORMS, *dict.fromkeys(CHAINED)], ids=lambda form: form.id)
def test_whatever_a_form_brings_is_on_the_parts_list_in_words(form):
    for part in form.brings:
        assert part in PARTS
    if form.parts:
        assert wording.form_note(form), "what to watch for is said where parts are added"


def test_nothing_that_can_be_asked_or_found_is_without_words():
    assert set(wording.OWN_SOURCES) == set(OWN)
    assert set(wording.INPUT_NAMES) == {each.id for each in INPUTS}
    assert set(FINDINGS) >= set(RULES)
    rooms = {rule.id for rule in (*of_a_hook_up.RULES, *COMPLAINT_RULES) if rule.id != "fix_refused"}
    assert set(findings.RULES) >= rooms  # a refused fix has the words of its refusal
    assert set(AGAINST) == {rule.id for rule in (*SIGNING_RULES, *STEP_RULES)}
