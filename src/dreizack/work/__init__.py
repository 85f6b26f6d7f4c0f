"""What runs in the background: deliveries, as jobs on the same PostgreSQL (Procrastinate)."""

from .jobs import defer_delivery, job_app, prepare_jobs

__all__ = ["defer_delivery", "job_app", "prepare_jobs"]
