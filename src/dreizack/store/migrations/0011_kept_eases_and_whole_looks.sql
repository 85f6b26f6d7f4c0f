-- Eases and looks of whole shots are kept beside finishes, looks and movements.
ALTER TABLE kept DROP CONSTRAINT kept_kind_check;
ALTER TABLE kept ADD CONSTRAINT kept_kind_check CHECK (kind IN ('finish', 'look', 'motion', 'ease', 'whole'));
