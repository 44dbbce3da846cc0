"""The facts and decisions of one job, typed: the only shape a job has outside the database."""
