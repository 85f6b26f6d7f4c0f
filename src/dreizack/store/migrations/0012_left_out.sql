-- Solves know what of the plate they do not look at: outlines, and a name for their content.
ALTER TABLE solves ADD COLUMN left_out bytea, ADD COLUMN left_out_key text NOT NULL DEFAULT '';
