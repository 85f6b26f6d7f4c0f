-- Control characters in names and texts, which no longer come in: NUL made whole lists unreadable.
-- In JSON they are escapes after an even number of backslashes; a line break in words stays one.
CREATE FUNCTION pg_temp.without_control(document json) RETURNS json LANGUAGE sql IMMUTABLE AS $$
    SELECT regexp_replace(document::text, '(?<!\\)((?:\\\\)*)(?:\\u00[01][0-9a-fA-F]|\\[bfrt])', '\1', 'g')::json
$$;

-- Documents of shots.
UPDATE shots SET document = pg_temp.without_control(document) WHERE document::text ~ '\\u00[01]|\\[bfrt]';

-- What undo and redo go by.
UPDATE edits SET patch = pg_temp.without_control(patch), inverse = pg_temp.without_control(inverse)
WHERE patch::text || inverse::text ~ '\\u00[01]|\\[bfrt]';

-- Shots as they were ordered.
UPDATE deliveries SET document = pg_temp.without_control(document) WHERE document::text ~ '\\u00[01]|\\[bfrt]';

-- Saved states.
UPDATE takes SET document = pg_temp.without_control(document) WHERE document::text ~ '\\u00[01]|\\[bfrt]';

-- Saved finishes and looks; their names are parts of addresses.
UPDATE kept SET content = pg_temp.without_control(content) WHERE content::text ~ '\\u00[01]|\\[bfrt]';
UPDATE kept k SET name = replace(name, '/', '-')
WHERE position('/' IN name) > 0
  AND NOT EXISTS (SELECT 1 FROM kept o WHERE o.kind = k.kind AND o.name = replace(k.name, '/', '-'));
