-- The whole job: shots and deliveries hang on it. Deleting only marks, so that it can be undone.
CREATE TABLE productions (
    id         uuid PRIMARY KEY DEFAULT gen_random_uuid(),
    name       text NOT NULL CHECK (name <> ''),
    created    timestamptz NOT NULL DEFAULT now(),
    changed    timestamptz NOT NULL DEFAULT now(),
    deleted    timestamptz
);

-- One animated scene. `document` is json, not jsonb: the order of things is part of it.
CREATE TABLE shots (
    id         uuid PRIMARY KEY DEFAULT gen_random_uuid(),
    production uuid NOT NULL REFERENCES productions ON DELETE CASCADE,
    place      bigint GENERATED ALWAYS AS IDENTITY,
    document   json NOT NULL,
    revision   integer NOT NULL DEFAULT 0 CHECK (revision >= 0),
    created    timestamptz NOT NULL DEFAULT now(),
    changed    timestamptz NOT NULL DEFAULT now(),
    deleted    timestamptz
);
CREATE INDEX shots_of_production ON shots (production, place);

-- Every change of a shot. Undo and redo are changes too; `state` says what an edit is good for:
-- applied (undo may take it back), undone (redo may bring it back), spent (neither).
CREATE TABLE edits (
    shot       uuid NOT NULL REFERENCES shots ON DELETE CASCADE,
    revision   integer NOT NULL,
    kind       text NOT NULL CHECK (kind IN ('edit', 'undo', 'redo')),
    gesture    text,
    patch      json NOT NULL,
    inverse    json NOT NULL,
    state      text NOT NULL CHECK (state IN ('applied', 'undone', 'spent')),
    made       timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (shot, revision)
);
CREATE INDEX edits_by_state ON edits (shot, state, revision);

-- A render order with the shot as it was when ordered.
CREATE TABLE deliveries (
    id         uuid PRIMARY KEY DEFAULT gen_random_uuid(),
    shot       uuid NOT NULL REFERENCES shots ON DELETE CASCADE,
    revision   integer NOT NULL,
    document   json NOT NULL,
    first      integer NOT NULL,
    last       integer NOT NULL,
    width      integer NOT NULL,
    height     integer NOT NULL,
    quality    text NOT NULL,
    state      text NOT NULL DEFAULT 'waiting'
               CHECK (state IN ('waiting', 'rendering', 'complete', 'cancelled', 'failed')),
    starts     integer NOT NULL DEFAULT 0,
    why        text,
    bytes      bigint,
    ordered    timestamptz NOT NULL DEFAULT now(),
    began      timestamptz,
    ended      timestamptz
);
CREATE INDEX deliveries_by_time ON deliveries (ordered DESC);

-- One row a finished frame; the key makes a second row for the same frame impossible.
CREATE TABLE delivered_frames (
    delivery   uuid NOT NULL REFERENCES deliveries ON DELETE CASCADE,
    frame      integer NOT NULL,
    kept       boolean NOT NULL,
    seconds    real NOT NULL,
    made       timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (delivery, frame)
);
