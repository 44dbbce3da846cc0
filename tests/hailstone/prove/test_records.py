"""What was signed, seen and ticked: it falls with what it stood for, and nobody's record is lost."""

from __future__ import annotations

from dataclasses import dataclass, fields

import pytest
from django.db import models
from django.utils import timezone

from electrics.correct.flasher import flasher_questions
from electrics.document.as_found import AsFound
from electrics.document.difference import changes_of
from electrics.document.keyed import keyed
from electrics.document.papers import PAPERS
from electrics.document.units import LeadFacts, UnitFacts
from electrics.document.vehicle import VehicleFacts
from electrics.document.written import written
from electrics.job.rests import whole
from electrics.prove.sheet import Outcome
from electrics.vocabulary import Control
from hailstone.hookup.models import HookUp
from hailstone.identify.models import AccessPoint, Pin
from hailstone.jobs.forms import BriefForm
from hailstone.jobs.models import Before, Job, Vehicle
from hailstone.layers import plans
from hailstone.layers.broken import CannotComputeError
from hailstone.layers.overviews import job_overview
from hailstone.prove import services
from hailstone.prove.content import sheet_content
from hailstone.prove.models import BuildTick, Result, Signature
from hailstone.units.models import Unit
from hailstone.wording.changes import FACTS
from measured import all_pass
from posted import forms_on, send
from signing import facts_now
from stepped import build_all, keys_of

pytestmark = pytest.mark.django_db
HTMX = {"HX-Request": "true"}


@pytest.fixture
def signed(page, hooked_up, who):
    build_all(hooked_up, who)
    all_pass(hooked_up, job_overview(hooked_up.id).proof.sheet.lines, who)
    send(page, f"/jobs/{hooked_up.id}/prove/", "prove/sign/")
    assert job_overview(hooked_up.id).is_signed
    return hooked_up


def printed(job):
    view = job_overview(job.id)
    return sheet_content(view, view.proof)


MEANT = {
    "arrangement": "combined",
    "computer": "unknown",
    "flasher": "bimetal",
    "flasher_looks": {"pilot": "one", "off": "glows"},
    "habits": [["air_c", 60.0]],
    "not_fitted": [str(Control.FOG_REAR)],
    "brake_with_hazard": "brake_wins",
    "pilot": "one",
    "idle": "leak",
    "prongs": "two",
    "is_coded": True,
    "earlier": [{"place": "left tail lamp", "pin": "3", "function": "tail", "date": "2026-03-01"}],
    "body": "truck",
    "as_found": {"warnings": "lamp failure"},
    "addition": "high_stop",
    "complaint": "fast_flash",
    "keeps": "lease",
    "kind": "fuse_box",
    "side": "right",
    "system_v": 24,
    "joint": "solder",
    "ground": "weld",
    "ground_wire": "14",
    "wire_standard": "metric",
    "wire_size": "14",
    "overrides": {"load_a": 2.0},
}
"""Another value of columns that take only some."""
FIELDS = [(VehicleFacts, field.name) for field in fields(VehicleFacts)] + [
    (model, field.name)
    for model in (Job, Vehicle, AccessPoint, Pin, HookUp)
    for field in model._meta.concrete_fields
    if field.name not in ("id", "facts")
    and not isinstance(field, models.ForeignKey | models.OneToOneField | models.DateTimeField)
]


def another(field, value):
    if field.name in MEANT:
        return MEANT[field.name]
    if isinstance(field, models.BooleanField):
        return not value
    if isinstance(field, models.FloatField | models.IntegerField):
        return (value or 0) + 1
    return "left" if field.choices else f"{value} II"


CONCLUDED = {"pilot", "idle", "prongs"}
"""Follow from `flasher_looks`, whatever is said of them beside those."""
UNPRINTED = {
    Job: {"version", "supply_v", "has_helper", "tools", "charts_all"},
    Vehicle: set(),
    AccessPoint: {"version", "face_rows", "seen_from", "claims_from", "claims_origin"},
    Pin: {"position", "claim", "claim_from"},
    HookUp: {"version", "labels"},
}
"""What counts saves, changes what is asked for or how a screen looks, or is weighed with the readings."""


def _said(name):
    """A vehicle, its column and what stands in it with one fact more."""
    vehicle = Vehicle.objects.get()
    vehicle.say(**{name: MEANT[name]})
    return vehicle, "facts", vehicle.facts


@pytest.mark.parametrize(("model", "name"), FIELDS, ids=lambda each: getattr(each, "__name__", each))
def test_whatever_is_changed_the_signature_falls_or_the_sheet_is_word_for_word_the_same(signed, model, name):
    """Every column that people fill in and every fact of the vehicle, whether or not anybody thought of it."""
    said = name
    if (model, name) == (HookUp, "circuits"):
        row, value = HookUp.objects.get(), {"reverse": {"host_fuse_a": 15.0}}
    elif model is VehicleFacts:
        row, name, value = _said(name)
        model = Vehicle
    else:
        row = model.objects.filter(**({"label": "3"} if model is Pin else {})).first()
        value = another(model._meta.get_field(name), getattr(row, name))
    was = printed(signed)
    model.objects.filter(pk=row.pk).update(**{name: value})
    plans.forget()
    try:
        view = job_overview(signed.id)
    except CannotComputeError:
        return  # says so on its page, and prints nothing
    if view.is_signed:
        assert name in UNPRINTED[model] or said in CONCLUDED, (
            f"{name}: put it into the document, or say why it isn't printed"
        )
        assert sheet_content(view, view.proof) == was
    else:
        assert view.signed.changes


def test_every_fact_that_is_signed_has_its_words(signed):
    """What is compared is named as people know it."""
    compared = keyed(facts_now(signed)["document"])
    families = {name for name, own in compared.items() if own and name in ("vehicle", "job", "hookup")}
    assert families == {"vehicle", "job", "hookup"}
    names = {name for family in families for name in compared[family]} | {*PAPERS["job"], *PAPERS["vehicle"]}
    for family in ("place", "unit", "run", "circuit", "cure"):
        names |= {name for each in compared[family].values() for name in each if name not in ("pin", "said", "id")}
    names |= {field.name for part in (UnitFacts, LeadFacts, AsFound, VehicleFacts) for field in fields(part)}
    assert names - set(FACTS) - {"leads", "id", "cure"} == set()


ELSEWHERE = {"flasher", "pilot", "idle", "prongs", "habits", "is_coded", "earlier"}
"""What Correct asks for (its flasher's kind and looks, habits, a fix that codes its computer), and earlier jobs."""


def test_every_fact_of_the_vehicle_can_be_said_in_a_form():
    assert {field.name for field in fields(VehicleFacts)} - set(BriefForm.base_fields) == ELSEWHERE
    assert {"pilot", "off", "prongs"} <= {question.id for question in flasher_questions()}


def test_a_new_fact_is_stored_and_signed_by_its_field_alone(signed, monkeypatch):
    @dataclass(frozen=True)
    class Wider(VehicleFacts):
        tow_bar: str = ""

    monkeypatch.setattr("hailstone.jobs.models.core.VehicleFacts", Wider)
    vehicle = Vehicle.objects.get()
    was = written(vehicle.said)
    vehicle.say(tow_bar="swan neck")
    vehicle.save()
    assert Vehicle.objects.get().said.tow_bar == "swan neck"
    found = changes_of(*(keyed({"vehicle": each}) for each in (was, written(vehicle.said))))
    assert [each.key for each in found] == ["vehicle:tow_bar"]


def test_a_new_name_asks_for_a_new_signature_and_leaves_results_and_steps(signed):
    """Whatever is called otherwise was tested as it is: place, pin, thing."""
    AccessPoint.objects.update(name="LH tail lamp")
    Unit.objects.update(name="pods")
    plans.forget()
    view = job_overview(signed.id)
    assert [change.key.rpartition(":")[2] for change in view.signed.changes] == ["name"]
    assert (len(view.proof.fallen), view.proof.counts[Outcome.UNTESTED], view.open_steps) == (0, 0, 0)


def test_a_rewired_lead_is_tested_again_before_anybody_signs(page, signed, choice, who):
    """Thicker wire between supply and ground of the lamp: its lines and steps are open, the old result beside them."""
    page.post(f"/jobs/{signed.id}/hook-up/", {**choice, "wire_size": "12", "version": "1"})
    view = job_overview(signed.id)
    assert not view.is_signed
    assert view.proof.outcome(view.proof.sheet.line("reverse|added")) is Outcome.UNTESTED
    assert view.proof.fallen["reverse|added"].outcome == "pass"
    text = page.get(f"/jobs/{signed.id}/prove/?state=reverse").content.decode()
    assert "passed before the plan changed" in text
    assert "Not signed" in send(page, f"/jobs/{signed.id}/prove/", "prove/sign/", follow=True).content.decode()
    page.post(f"/jobs/{signed.id}/hook-up/", {**choice, "version": "2"})
    assert job_overview(signed.id).proof.verdict == "passed"  # put back as it was tested


def test_what_the_signer_never_saw_is_not_signed(page, signed):
    """A change between opening the page and signing."""
    Job.objects.update(title="Pods")
    (form,) = forms_on(page.get(f"/jobs/{signed.id}/prove/").content.decode(), "prove/sign/")
    Vehicle.objects.update(make="Tarn")
    plans.forget()
    refused = page.post(f"/jobs/{signed.id}/prove/sign/", form)
    assert (refused.status_code, Signature.objects.count()) == (422, 1)
    assert "changed while you had it open" in refused.content.decode()
    (form,) = forms_on(page.get(f"/jobs/{signed.id}/prove/").content.decode(), "prove/sign/")
    for _ in range(2):  # posted twice it acts once
        page.post(f"/jobs/{signed.id}/prove/sign/", form)
    assert Signature.objects.count() == 2


def test_a_fail_is_not_overwritten_by_a_pass_that_never_saw_it(page, hooked_up, who, django_user_model):
    """Two people at one line, and one at a whole state of it."""
    address, line = f"/jobs/{hooked_up.id}/prove/?state=reverse", "reverse|added"
    html = page.get(address).content.decode()
    forms = forms_on(html, "prove/record/")
    stale = next(each for each in forms if each.get("line") == [line])
    group = next(each for each in forms if "group" in each)
    other = django_user_model.objects.create_user("bo")
    found = job_overview(hooked_up.id).proof.sheet.line(line)
    services.record(hooked_up, [found], Outcome.FAIL, other, note="one side dark")
    answer = page.post(f"/jobs/{hooked_up.id}/prove/record/", {**stale, "outcome": "pass"}, headers=HTMX)
    assert answer.status_code == 409
    assert "bo recorded" in answer.content.decode()
    answer = page.post(f"/jobs/{hooked_up.id}/prove/record/", {**group, "outcome": "pass"}, headers=HTMX)
    assert "recorded meanwhile (failed by bo)" in answer.content.decode()
    assert [each.outcome for each in Result.objects.filter(line=line)] == ["fail"]
    send(page, address, "prove/record/", headers=HTMX, line=line, outcome="pass")  # having seen it
    assert [each.outcome for each in Result.objects.filter(line=line)] == ["fail", "pass"]


def test_undo_that_is_posted_twice_undoes_one_change(page, hooked_up, choice):
    for version, length in (("1", "4.1"), ("2", "5.2")):
        page.post(f"/jobs/{hooked_up.id}/hook-up/", {**choice, "out_m": length, "version": version})
    (form,) = forms_on(page.get(f"/jobs/{hooked_up.id}/build/").content.decode(), "take-back/")
    kept = Before.objects.count()
    for _ in range(2):
        page.post(f"/jobs/{hooked_up.id}/take-back/", form)
    assert Before.objects.count() == kept - 1
    assert HookUp.objects.get().out_m == 4.1


def test_facts_that_a_later_version_adds_change_no_signature(signed):
    """What is as usual is not there at all; a run or a circuit is compared as if it had been asked."""
    facts = facts_now(signed)
    assert "habits" not in facts["document"]["vehicle"]
    stored = Signature.objects.get()
    stored.facts["document"]["hookup"]["run"].pop("is_exposed", None)
    stored.save()
    assert job_overview(signed.id).is_signed == (HookUp.objects.get().is_exposed is True)


def test_a_tick_of_an_earlier_version_counts_for_all_its_steps_and_can_be_parted(hooked_up, who):
    """The eleven steps of before: one tick for all joints; opening one of them leaves the others done."""
    plan = job_overview(hooked_up.id).derived
    BuildTick.objects.create(job=hooked_up, step="join", who=who, at=timezone.now(), rests_on=whole(plan))

    def open_joints():
        return {
            stand.step.key
            for stand in job_overview(hooked_up.id).stands
            if stand.step.kind.former == "join" and not stand.is_done
        }

    assert open_joints() == set()
    services.tick(hooked_up, keys_of(hooked_up, "connect")[0], services.TickState.OPEN, who)
    (opened,) = open_joints()
    assert opened.kind == "connect"
    assert not BuildTick.objects.filter(step="join").exists()


def test_numbers_stay_from_the_first_step_that_is_checked_off_even_when_places_are_renamed(hooked_up, who):
    services.tick(hooked_up, keys_of(hooked_up, "cut_wires")[0], services.TickState.DONE, who)
    hookup = HookUp.objects.get(job=hooked_up)
    wires = [label for label in hookup.labels if label[0].startswith("wire")]
    assert len(wires) == len(job_overview(hooked_up.id).build.wires)
    turned = {label[3]: str(len(wires) + 1 - int(label[3])) for label in wires}
    hookup.labels = [[*each[:3], turned[each[3]]] if each in wires else each for each in hookup.labels]
    hookup.save()
    before = {wire.label: wire.cut_m for wire in job_overview(hooked_up.id).build.wires}
    AccessPoint.objects.update(name="LH tail lamp")
    plans.forget()
    assert {wire.label: wire.cut_m for wire in job_overview(hooked_up.id).build.wires} == before
