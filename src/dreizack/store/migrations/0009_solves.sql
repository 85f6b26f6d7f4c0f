-- Solves of plates: what is wanted, how far it is, and the file that came of it.
CREATE TABLE solves (
    id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
    clip text NOT NULL,
    focal double precision,
    state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'solving', 'complete', 'failed', 'cancelled')),
    what text NOT NULL DEFAULT '',
    share double precision NOT NULL DEFAULT 0,
    file text,
    why text,
    asked timestamptz NOT NULL DEFAULT now(),
    ended timestamptz
);
CREATE INDEX solves_by_clip ON solves (clip, asked DESC);
