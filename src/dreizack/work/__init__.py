"""What runs in the background: deliveries, as jobs on the same PostgreSQL (Procrastinate)."""

from .courtesy import note_edit
from .jobs import defer_delivery, defer_solve, job_app, prepare_jobs

__all__ = ["defer_delivery", "defer_solve", "job_app", "note_edit", "prepare_jobs"]
