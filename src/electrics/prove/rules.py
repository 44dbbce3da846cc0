"""Rules about the sheets: when a step may be checked off, and when a name may be put under them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from electrics.build.step_kinds import StepKind
from electrics.judge.finding import Finding
from electrics.judge.rule import Rule

__all__ = ["SIGNING_RULES", "STEP_RULES", "SigningCase", "StepCase"]


@dataclass(frozen=True)
class StepCase:
    """A step of the build sheet that somebody wants to check off.

    Attributes
    ----------
    is_complete : bool
        Nothing of the hook-up is open, and nothing forbids it.
    """

    step: StepKind
    is_complete: bool


class JoinedTooEarly(Rule[StepCase]):
    """A splice, or what follows it, before the hook-up is decided and allowed."""

    id = "step_early"

    def look(self, case: StepCase) -> Iterator[Finding]:
        if case.step.waits_for_design and not case.is_complete:
            yield self.found(detail=case.step.id)


@dataclass(frozen=True)
class SigningCase:
    """A job that somebody wants to sign.

    Attributes
    ----------
    is_complete : bool
        Nothing of the hook-up is open, nothing forbids it, and there is a sheet.
    is_signed : bool
        The last signature stands.
    steps_open : int
        Build steps that are neither done nor marked not needed, or done before the plan changed [-].
    untested, failed : int
        Lines of the test sheet [-].
    """

    is_complete: bool
    is_signed: bool
    steps_open: int
    untested: int
    failed: int


class HookUpOpen(Rule[SigningCase]):
    """A hook-up that is not decided, or not allowed."""

    id = "sign_hookup_open"

    def look(self, case: SigningCase) -> Iterator[Finding]:
        if not case.is_complete:
            yield self.found()


class SignedAlready(Rule[SigningCase]):
    """A signature that stands."""

    id = "sign_again"

    def look(self, case: SigningCase) -> Iterator[Finding]:
        if case.is_signed:
            yield self.found()


class StepsOpen(Rule[SigningCase]):
    """Build steps that are open."""

    id = "sign_steps_open"

    def look(self, case: SigningCase) -> Iterator[Finding]:
        if case.steps_open:
            yield self.found(value=case.steps_open, limit=0.0)


class LinesUntested(Rule[SigningCase]):
    """Lines that nobody has tested."""

    id = "sign_untested"

    def look(self, case: SigningCase) -> Iterator[Finding]:
        if case.untested:
            yield self.found(value=case.untested, limit=0.0)


class LinesFailed(Rule[SigningCase]):
    """Lines that failed."""

    id = "sign_failed"

    def look(self, case: SigningCase) -> Iterator[Finding]:
        if case.failed:
            yield self.found(value=case.failed, limit=0.0)


STEP_RULES: Sequence[Rule[StepCase]] = (JoinedTooEarly(),)
SIGNING_RULES: Sequence[Rule[SigningCase]] = (
    HookUpOpen(),
    SignedAlready(),
    StepsOpen(),
    LinesUntested(),
    LinesFailed(),
)
