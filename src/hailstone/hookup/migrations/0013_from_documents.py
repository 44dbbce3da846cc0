"""What was decided of a job stood in documents whose keys were ids; from here on rows refer by foreign key.

What a document named that is gone is left out, as it was before: places, and lamps that a thing stood in for. A wire
that is gone keeps its id as a word, so that what was signed of its way is the same. A way that was not chosen has no row,
and no signed fact.
"""

from django.db import migrations

OF_UNIT = ("id", "name", "kind", "side", "place", "instead_of", "leads")
UNSAID_WAY = ": "


def free(name, taken):
    n = 1
    while (each := name if n == 1 else f"{name} {n}") in taken:
        n += 1
    return each


class Job:
    """The rows of one job, as they are made."""

    def __init__(self, apps, job):
        self.apps, self.job = apps, job
        self.points = {point.id: point for point in apps.get_model("identify", "AccessPoint").objects.filter(job=job)}
        self.units, self.leads, self.places = {}, {}, {}
        self.spots = {
            spot["name"]: self.model("Spot").create(job=job, position=n, name=spot["name"], zone=spot["zone"])
            for n, spot in enumerate({spot["name"]: spot for spot in job.spots}.values())
        }

    def model(self, name):
        return self.apps.get_model("units", name).objects

    def place(self, text):
        """The row of a place by its reference: `#12`, `=unit 2> (new)`, a spot or a name; None where it is gone."""
        own, _, rest = text.partition(">") if text[:1] in ("#", "=") else ("", "", text)
        point = self.points.get(int(own[1:])) if own[:1] == "#" and own[1:].isdecimal() else None
        unit = self.units.get(own[1:]) if own[:1] == "=" else None
        spot = None if own else self.spots.get(rest)
        if not text or (own and point is None and unit is None):
            return None
        at = (point, unit, spot, "" if spot else rest)
        if at not in self.places:
            columns = dict(zip(("point", "unit", "spot", "rest"), at, strict=True))
            self.places[at] = self.model("Place").create(job=self.job, **columns)
        return self.places[at]

    def write_units(self):
        unit_model, lead_model = self.model("Unit").model, self.model("Lead").model
        for n, entry in enumerate(self.job.units):
            lamp = entry.get("instead_of", "")
            lamp = self.points.get(int(lamp[1:])) if lamp[:1] == "#" and lamp[1:].isdecimal() else None
            facts = {name: value for name, value in entry.items() if name not in OF_UNIT}
            own = {"name": entry["name"], "kind": entry.get("kind", ""), "side": entry.get("side", "")}
            row = unit_model(job=self.job, key=entry["id"], position=n, instead_of=lamp, facts=facts, **own)
            self.units[entry["id"]] = row
        unit_model.objects.bulk_create(self.units.values())
        placed = [entry for entry in self.job.units if entry.get("place")]
        for entry in placed:
            self.units[entry["id"]].place = self.place(entry["place"])
        unit_model.objects.bulk_update([self.units[entry["id"]] for entry in placed], ["place"])
        said = [(entry["id"], *each) for entry in self.job.units for each in enumerate(entry.get("leads", ()))]
        for unit, n, each in sorted(said, key=lambda one: not one[2].get("id")):
            key = free(each.get("id") or f"{unit}: {each['lead']}", self.leads)
            facts = {name: value for name, value in each.items() if name != "id"}
            self.leads[key] = lead_model(job=self.job, unit=self.units[unit], key=key, position=n, facts=facts)
        lead_model.objects.bulk_create(self.leads.values())

    def write_leads(self, hookup):
        """Those of the brief's things that something is decided of."""
        named = (
            *(key for key, way in hookup.ways.items() if way),
            *hookup.leads,
            *(key for cure in hookup.cures for key in cure["leads"]),
        )
        new = {
            key: self.model("Lead").model(job=self.job, key=key, position=0) for key in named if key not in self.leads
        }
        self.model("Lead").bulk_create(new.values())
        self.leads |= new

    def write_decisions(self, hookup):
        made = {name: self.apps.get_model("hookup", name) for name in ("LeadDecision", "WaySource", "Cure")}
        pins = self.apps.get_model("identify", "Pin").objects.filter(point__job=self.job)
        pins = set(pins.values_list("id", flat=True))
        decisions, sources = [], []
        for key in dict.fromkeys((*hookup.ways, *hookup.leads)):
            form, _, taken = hookup.ways.get(key, "").partition(":")
            run = hookup.leads.get(key, {})
            if not form and not run:
                continue
            decision = made["LeadDecision"](hookup=hookup, lead=self.leads[key], form=form, run=run)
            decisions.append(decision)
            for n, source in enumerate(filter(None, taken.split(","))):
                is_wire = source.isdecimal() and int(source) in pins
                wire = {"pin_id": int(source)} if is_wire else {"own": source}
                sources.append(made["WaySource"](decision=decision, position=n, **wire))
        made["LeadDecision"].objects.bulk_create(decisions)
        made["WaySource"].objects.bulk_create(sources)
        for n, entry in enumerate(hookup.cures):
            facts = {name: value for name, value in entry.items() if name not in ("cure", "leads")}
            cure = made["Cure"].objects.create(hookup=hookup, position=n, cure=entry["cure"], facts=facts)
            for at, key in enumerate(entry["leads"]):
                cured = {"cure": cure, "lead": self.leads[key], "position": at}
                self.apps.get_model("hookup", "CuredLead").objects.create(**cured)
        for first, second, m in hookup.distances:
            ends = self.place(first), self.place(second)
            if all(ends):
                distance = {"hookup": hookup, "first": ends[0], "second": ends[1], "m": m}
                self.apps.get_model("hookup", "Distance").objects.create(**distance)


def write_rows(apps, schema_editor):
    hookups = {hookup.job_id: hookup for hookup in apps.get_model("hookup", "HookUp").objects.all()}
    for job in apps.get_model("jobs", "Job").objects.iterator():
        hookup = hookups.get(job.id)
        rows = Job(apps, job)
        rows.write_units()
        if hookup is not None:
            rows.write_leads(hookup)
            rows.write_decisions(hookup)
    for signature in apps.get_model("prove", "Signature").objects.all():
        kept = {
            key: value
            for key, value in signature.facts.items()
            if not (key.startswith("way:") and value == UNSAID_WAY)
        }
        if kept != signature.facts:
            signature.facts = kept
            signature.save(update_fields=["facts"])


class Migration(migrations.Migration):
    dependencies = [
        ("hookup", "0012_rows"),
        ("identify", "0005_all_wires"),
        ("jobs", "0009_tools"),
        ("prove", "0002_revisions"),
        ("units", "0001_initial"),
    ]

    operations = [migrations.RunPython(write_rows, migrations.RunPython.noop)]
