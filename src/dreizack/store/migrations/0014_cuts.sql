-- Frames at which something else begins, of a plate that could not be solved for them.
ALTER TABLE solves ADD COLUMN cuts int[] NOT NULL DEFAULT '{}';
