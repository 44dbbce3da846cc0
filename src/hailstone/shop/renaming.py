"""A list that is written anew: what is missing in it was renamed, or is gone. Asked where something hangs on it."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence

from django import forms

__all__ = ["followed", "gone_field"]


def gone_field(what: str) -> forms.ChoiceField:
    """Asks what became of those that are missing; `what` hangs on them."""
    return forms.ChoiceField(
        label="What became of them",
        required=False,
        choices=[
            ("", "Say which"),
            ("renamed", f"They have new names: keep what was {what}"),
            ("removed", f"They are not there: remove them with what was {what}"),
        ],
        widget=forms.Select(attrs={"class": "form-select"}),
    )


def followed(
    before: Sequence[str],
    now: Sequence[str],
    used: Collection[str],
    answer: str,
    said: Callable[[list[str]], str],
) -> dict[str, str]:
    """The new names by the old ones, in their order; empty where none was renamed.

    Parameters
    ----------
    before, now : sequence of str
        The list as it stood, and as it was written.
    used : collection of str
        Those that something hangs on.
    answer : str
        `renamed`, `removed`, or empty while nobody has said.
    said : callable
        The sentence that begins the question, from those of `used` that are missing.

    Raises
    ------
    ValidationError
        It has to be said first, or what was said cannot be.
    """
    gone = [label for label in before if label not in now]
    new = [label for label in now if label not in before]
    named = dict(zip(gone, new, strict=True)) if len(gone) == len(new) else {}
    if answer == "renamed" and named:
        return named
    missing = [label for label in gone if label in used]
    if not missing or answer == "removed":
        return {}
    question = said(missing)
    if named:
        pairs = ", ".join(f"{old} is {label} now" for old, label in named.items())
        question += f" Did the names change ({pairs}), or are they gone? Say which below."
    elif answer == "renamed":
        question += f" {len(gone)} missing, {len(new)} new: rename them without adding or removing any."
    else:
        question += " Say below that they are gone, or list them again."
    raise forms.ValidationError(question)
