"""`hailstone export` and `hailstone import`: a job between the database and its file."""

from __future__ import annotations

from electrics.errors import InputError
from hailstone.cli.serving import prepare_database

__all__ = ["export_job", "import_job"]


def export_job(number: int) -> str:
    """The file of a job; InputError where there is none of that number, or it can't be computed."""
    prepare_database()
    from hailstone.jobs.models import Job
    from hailstone.layers.broken import CannotComputeError
    from hailstone.layers.job_import import file_of

    if not Job.objects.filter(pk=number).exists():
        raise InputError(f"There is no job {number}. Its number stands in the address of its pages.")
    try:
        return file_of(number)
    except CannotComputeError as error:
        raise InputError(f"Job {number} can't be computed: {error}") from error


def import_job(text: str, name: str) -> list[str]:
    """Store a job file as a new job of one person, and say what became of it, a line each.

    Raises
    ------
    InputError
        A file that can't be understood, or nobody of that name.
    """
    prepare_database()
    from django.contrib.auth.models import User

    from electrics.job.file.reading import read_whole
    from hailstone.layers.job_import import take_in

    people = list(User.objects.filter(is_active=True, **({"username": name} if name else {}))[:2])
    if len(people) != 1:
        raise InputError(
            f"Nobody here is called {name}."
            if name
            else "Say who takes it in, by a name that can sign in: --user NAME."
        )
    job, left = take_in(read_whole(text), people[0])
    return [f"Job {job.pk}, “{job.title}”, is new here.", *left]
