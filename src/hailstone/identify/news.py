"""What somebody else did at the same access point: readings of mine that were replaced, and new ones."""

from __future__ import annotations

from dataclasses import dataclass

from django.contrib.auth.models import User
from django.db.models import Q, Subquery
from django.utils import timezone

from hailstone.identify.history import show_change
from hailstone.identify.models import AccessPoint, ReadingChange


@dataclass(frozen=True)
class News:
    """Sentences about replaced readings, and who typed how much since the page was made."""

    replaced: tuple[str, ...]
    typed: str
    latest: int


def news_for(point: AccessPoint, who: User, since: int | None = None) -> News:
    """What this person should be told: readings of theirs replaced by others, and what is new since a mark.

    Without a mark nothing is new yet: the newest change here becomes the mark, in the same query.
    """
    here = ReadingChange.objects.filter(pin__point=point)
    newest = Subquery(here.order_by("-id").values("id")[:1])
    new = Q(id=newest) if since is None else Q(id__gt=since) & ~Q(changed_by=who)
    changes = list(here.filter(Q(overruled=who, is_told=False) | new).select_related("pin", "against", "changed_by"))
    if since is None:
        since = max((change.id for change in changes), default=0)
    untold = [change for change in changes if change.overruled_id == who.pk and not change.is_told]
    fresh = [change for change in changes if change.id > since and change.changed_by_id != who.pk]
    typed = ""
    others = sorted({str(change.changed_by) for change in fresh})
    if others:
        count = len({(c.pin_id, c.state, c.instrument, c.load, c.against_id) for c in fresh})
        typed = (
            f"{' and '.join(others)} changed {count} reading{'s' if count > 1 else ''} here since you opened this."
        )
    return News(tuple(_sentence(change) for change in untold), typed, since)


def told(point: AccessPoint, who: User) -> None:
    """The person has read it."""
    ReadingChange.objects.filter(pin__point=point, overruled=who, is_told=False).update(is_told=True)


def _sentence(change: ReadingChange) -> str:
    when = timezone.localtime(change.changed_at).strftime("%H:%M")
    where = show_change(change).where
    now = f"“{change.after}”" if change.after else "nothing"
    return (
        f"{change.changed_by} changed your “{change.before}” at pin {change.pin.label}, {where.lower()}, to {now} "
        f"at {when}. The later one counts; both are in the history."
    )
