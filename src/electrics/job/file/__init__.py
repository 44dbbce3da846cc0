"""The job file, `hailstone-job`: the document by names that a person would know (docs/formats/job.md)."""
