-- takes_list: The takes of a shot, the latest first.
SELECT name, revision, saved FROM takes WHERE shot = %(shot)s ORDER BY saved DESC, name;

-- take_read: The shot as it was in a take.
SELECT document::text AS document, schema FROM takes WHERE shot = %(shot)s AND name = %(name)s;

-- takes_whole: The takes of a shot as they were, the oldest first.
SELECT name, document::text AS document, schema FROM takes WHERE shot = %(shot)s ORDER BY saved, name;

-- take_write: Save a take; one of the same name is replaced.
INSERT INTO takes (shot, name, document, revision, schema)
VALUES (%(shot)s, %(name)s, %(document)s::json, %(revision)s, %(schema)s)
ON CONFLICT (shot, name) DO UPDATE SET document = excluded.document, schema = excluded.schema, revision = excluded.revision, saved = now();

-- take_delete: Forget a take.
DELETE FROM takes WHERE shot = %(shot)s AND name = %(name)s RETURNING name;
