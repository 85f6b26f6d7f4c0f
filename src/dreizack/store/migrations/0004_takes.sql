-- Named states of a shot, saved to compare with and to go back to.
CREATE TABLE takes (
    shot uuid NOT NULL REFERENCES shots (id) ON DELETE CASCADE,
    name text NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
    document json NOT NULL,
    revision integer NOT NULL,
    saved timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (shot, name)
);
