"""Who may sign in."""

from __future__ import annotations

from django.contrib.auth import get_user_model
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import transaction

from electrics.errors import InputError


@transaction.atomic
def set_password(name: str, password: str) -> None:
    """Make a person, or give one a new password.

    Raises
    ------
    InputError
        The name or the password will not do, with the reason.
    """
    users = get_user_model().objects
    person = users.filter(username=name).first() or get_user_model()(username=name)
    person.set_password(password)
    try:
        validate_password(password, person)
        person.full_clean(validate_unique=person.pk is None)
    except ValidationError as error:
        raise InputError(" ".join(error.messages)) from error
    person.save()
