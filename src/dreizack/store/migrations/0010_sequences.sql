-- Shots on a line; as with shots, `document` is json: the order of its parts counts.
CREATE TABLE sequences (
    id         uuid PRIMARY KEY DEFAULT gen_random_uuid(),
    production uuid NOT NULL REFERENCES productions ON DELETE CASCADE,
    place      bigint GENERATED ALWAYS AS IDENTITY,
    document   json NOT NULL,
    schema     integer NOT NULL DEFAULT 1,
    revision   integer NOT NULL DEFAULT 0 CHECK (revision >= 0),
    created    timestamptz NOT NULL DEFAULT now(),
    changed    timestamptz NOT NULL DEFAULT now(),
    deleted    timestamptz
);
CREATE INDEX sequences_of_production ON sequences (production, place);

-- Every change of a sequence, as `edits` has those of shots.
CREATE TABLE sequence_edits (
    sequence   uuid NOT NULL REFERENCES sequences ON DELETE CASCADE,
    revision   integer NOT NULL,
    kind       text NOT NULL CHECK (kind IN ('edit', 'undo', 'redo')),
    gesture    text,
    patch      json NOT NULL,
    inverse    json NOT NULL,
    state      text NOT NULL CHECK (state IN ('applied', 'undone', 'spent')),
    schema     integer NOT NULL DEFAULT 1,
    made       timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (sequence, revision)
);
CREATE INDEX sequence_edits_by_state ON sequence_edits (sequence, state, revision);

-- Orders are of a shot or of a sequence, have a format, may be of a version of a table, and can rest.
ALTER TABLE deliveries ALTER COLUMN shot DROP NOT NULL;
ALTER TABLE deliveries
    ADD COLUMN sequence uuid REFERENCES sequences ON DELETE CASCADE,
    ADD COLUMN format text NOT NULL DEFAULT 'mp4',
    ADD COLUMN version text NOT NULL DEFAULT '',
    ADD CONSTRAINT deliveries_of_one CHECK (num_nonnulls(shot, sequence) = 1),
    DROP CONSTRAINT deliveries_state_check,
    ADD CONSTRAINT deliveries_state_check
        CHECK (state IN ('waiting', 'rendering', 'paused', 'complete', 'cancelled', 'failed'));
