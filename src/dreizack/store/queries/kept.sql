-- kept_list: What of a kind was saved, by name.
SELECT name, content::text AS content, schema FROM kept WHERE kind = %(kind)s ORDER BY lower(name);

-- kept_read: One of them.
SELECT content::text AS content, schema FROM kept WHERE kind = %(kind)s AND name = %(name)s;

-- kept_write: Save one; one of the same name is replaced.
INSERT INTO kept (kind, name, content, schema) VALUES (%(kind)s, %(name)s, %(content)s::json, %(schema)s)
ON CONFLICT (kind, name) DO UPDATE SET content = excluded.content, schema = excluded.schema, changed = now();

-- kept_add: Save one, unless there is one of this name.
INSERT INTO kept (kind, name, content, schema) VALUES (%(kind)s, %(name)s, %(content)s::json, %(schema)s)
ON CONFLICT (kind, name) DO NOTHING RETURNING name;

-- kept_delete: Forget one.
DELETE FROM kept WHERE kind = %(kind)s AND name = %(name)s RETURNING name;

-- shots_with: Shots whose document contains a piece of text.
SELECT id FROM shots WHERE deleted IS NULL AND position(%(text)s IN document::text) > 0 ORDER BY id;
