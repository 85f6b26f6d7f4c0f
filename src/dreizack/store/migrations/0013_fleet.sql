-- Shots whose frames are shared out to machines of a fleet, as long as their delivery runs.
CREATE TABLE fleet_orders (
    id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
    document text NOT NULL,
    width int NOT NULL,
    height int NOT NULL,
    quality text NOT NULL,
    made timestamptz NOT NULL DEFAULT now()
);

-- Pictures of theirs that are wanted, by the name of their content, and who is at them until when.
CREATE TABLE fleet_frames (
    key text PRIMARY KEY,
    part_of uuid NOT NULL REFERENCES fleet_orders ON DELETE CASCADE,
    place int NOT NULL,
    at double precision NOT NULL,
    passed text NOT NULL,
    named text NOT NULL,
    taken_by text NOT NULL DEFAULT '',
    until timestamptz
);
CREATE INDEX fleet_frames_in_order ON fleet_frames (part_of, place);

-- Machines that help, what they are at, and how much they did.
CREATE TABLE fleet_machines (
    name text PRIMARY KEY,
    seen timestamptz NOT NULL DEFAULT now(),
    frames int NOT NULL DEFAULT 0,
    seconds double precision NOT NULL DEFAULT 0
);
