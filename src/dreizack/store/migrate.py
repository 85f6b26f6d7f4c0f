"""Numbered migrations, each applied once, in order, in its own transaction."""

from __future__ import annotations

from pathlib import Path

import psycopg

MIGRATIONS = Path(__file__).parent / "migrations"
# Any fixed number: two starts at the same time take turns.
LOCK = 730_173


def migrate(address: str) -> list[str]:
    """Apply what is missing; the names of what was applied."""
    applied = []
    with psycopg.connect(address, autocommit=True) as connection:
        connection.execute("SELECT pg_advisory_lock(%s)", [LOCK])
        connection.execute(
            "CREATE TABLE IF NOT EXISTS migrations (name text PRIMARY KEY, at timestamptz DEFAULT now())"
        )
        known = {row[0] for row in connection.execute("SELECT name FROM migrations")}
        for file in sorted(MIGRATIONS.glob("*.sql")):
            if file.stem not in known:
                with connection.transaction():
                    connection.execute(file.read_bytes())
                    connection.execute("INSERT INTO migrations (name) VALUES (%s)", [file.stem])
                applied.append(file.stem)
        connection.execute("SELECT pg_advisory_unlock(%s)", [LOCK])
    return applied
