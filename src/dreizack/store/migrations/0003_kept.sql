-- Finishes and looks people saved to use again.
CREATE TABLE kept (
    kind text NOT NULL CHECK (kind IN ('finish', 'look')),
    name text NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
    content json NOT NULL,
    changed timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (kind, name)
);
