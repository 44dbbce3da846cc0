"""What is fitted or changed, as people wrote it down: each lamp or part with its side, place and leads."""

from __future__ import annotations

from dataclasses import dataclass, replace

from electrics.vocabulary import Polarity

__all__ = ["COMMONS", "SPACING_M", "LeadFacts", "UnitFacts"]

COMMONS = {"ground": Polarity.POSITIVE, "battery": Polarity.GROUND}
"""What the common lead of a unit wants, and the polarity of its other leads."""
SPACING_M = 0.3
"""From one lamp of a row to the next while nobody says [m] (estimate)."""


@dataclass(frozen=True)
class LeadFacts:
    """One lead, its common lead too.

    Attributes
    ----------
    lead, wants : str
        Its name, and when it is to be live: `tail`, `stop or turn left`; `ground` or `battery` of the common lead.
    amps : float or None
        Current of one lamp [A]; None for the usual of its kind.
    technology, polarity : str
        `led` or `filament`, `positive` or `ground`; empty for the usual.
    sockets : int
        Bulbs it replaces at each place, where somebody counted them; 0 for all that are there [-].
    id : str
        What its decisions are kept by, where pages wrote it; empty for its name on its unit.
    claim, claim_from : str
        The function that its seller's chart, or whoever else, says it is for, and who says so: never evidence.
    """

    lead: str
    wants: str
    amps: float | None = None
    technology: str = ""
    polarity: str = ""
    sockets: int = 0
    id: str = ""
    claim: str = ""
    claim_from: str = ""


@dataclass(frozen=True)
class UnitFacts:
    """One lamp or part.

    Attributes
    ----------
    kind : str
        Of `electrics.design.units.unit_kinds`; empty for a custom one.
    side : str
        `left`, `right` or empty.
    place, instead_of : str
        Where it is, and the place whose lamp it replaces; empty where its kind says it.
    lamps : int
        In a row on the same leads [-].
    spacing_m : float
        From one lamp of a row to the next [m].
    removable, swinging, wet : bool or None
        What carries it comes off, moves, is in spray; None for the usual of its kind.
    turned : bool
        It was found put in backward: its LEDs stay dark.
    backfeed_v : float or None
        With its brightest lead fed, across 1 kohm from its weakest lead to ground [V]; None while not measured.
    leads : tuple of LeadFacts
        Empty for the usual ones of its kind.
    id : str
        What its decisions are kept by, where pages wrote it; empty for its name.
    """

    name: str
    kind: str = ""
    side: str = ""
    place: str = ""
    instead_of: str = ""
    lamps: int = 1
    spacing_m: float = SPACING_M
    removable: bool | None = None
    swinging: bool | None = None
    wet: bool | None = None
    turned: bool = False
    backfeed_v: float | None = None
    leads: tuple[LeadFacts, ...] = ()
    id: str = ""

    @property
    def key(self) -> str:
        """What it goes by whatever it is called."""
        return self.id or self.name.strip()

    @property
    def lead_keys(self) -> tuple[str, ...]:
        """What its leads go by, its common lead among them, in order."""
        return tuple(each.id or f"{self.key}: {each.lead.strip()}" for each in self.leads)

    @property
    def commons(self) -> tuple[LeadFacts, ...]:
        """Its common leads: there should be one.

        Common is the ground. Where there is none it is the battery plus, of a lamp that is switched by ground; beside
        a ground, a lead that wants `battery` is always live.
        """
        wants = {each.wants.strip() for each in self.leads}
        common = next((text for text in COMMONS if text in wants), None)
        return tuple(each for each in self.leads if each.wants.strip() == common)

    @property
    def with_plain_commons(self) -> UnitFacts:
        """The same, its common lead going by its name: nothing is decided of it."""
        commons = self.commons
        return replace(self, leads=tuple(replace(e, id="") if e in commons else e for e in self.leads))

    @property
    def own_leads(self) -> tuple[LeadFacts, ...]:
        """The leads that want something of the vehicle."""
        commons = self.commons
        return tuple(each for each in self.leads if each not in commons)
