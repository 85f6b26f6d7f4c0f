-- Movements are kept beside finishes and looks.
ALTER TABLE kept DROP CONSTRAINT kept_kind_check;
ALTER TABLE kept ADD CONSTRAINT kept_kind_check CHECK (kind IN ('finish', 'look', 'motion'));
