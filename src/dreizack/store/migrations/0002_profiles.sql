-- Edge profiles people drew and want to use again.
CREATE TABLE profiles (
    name text PRIMARY KEY CHECK (length(name) BETWEEN 1 AND 60),
    points json NOT NULL,
    changed timestamptz NOT NULL DEFAULT now()
);
