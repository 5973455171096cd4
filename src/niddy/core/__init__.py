"""The rules of the job: pure functions and frozen dataclasses, without I/O, clock, web or database."""
