-- Which schema version documents and patches were written in; all of before are of the first.
ALTER TABLE shots ADD COLUMN schema integer NOT NULL DEFAULT 1;
ALTER TABLE edits ADD COLUMN schema integer NOT NULL DEFAULT 1;
ALTER TABLE deliveries ADD COLUMN schema integer NOT NULL DEFAULT 1;
ALTER TABLE takes ADD COLUMN schema integer NOT NULL DEFAULT 1;
ALTER TABLE kept ADD COLUMN schema integer NOT NULL DEFAULT 1;
