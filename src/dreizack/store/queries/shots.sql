-- shot_list: Shots of a production in order.
SELECT id, production, revision, document->>'name' AS name, document->'format' AS format, created, changed
FROM shots WHERE production = %(production)s AND deleted IS NULL ORDER BY place;

-- shot_read: A shot as it is now, and whether there is anything to undo or redo.
SELECT s.id, s.production, s.revision, s.document::text AS document, s.schema, s.changed, p.name AS production_name,
       EXISTS (SELECT 1 FROM edits e WHERE e.shot = s.id AND e.state = 'applied') AS can_undo,
       EXISTS (SELECT 1 FROM edits e WHERE e.shot = s.id AND e.state = 'undone') AS can_redo
FROM shots s JOIN productions p ON p.id = s.production
WHERE s.id = %(id)s AND s.deleted IS NULL AND p.deleted IS NULL;

-- shot_lock: The same row held until the transaction ends: edits of one shot go one after the other.
SELECT revision, document::text AS document, schema FROM shots WHERE id = %(id)s AND deleted IS NULL FOR UPDATE;

-- shot_create: A new shot.
INSERT INTO shots (production, document, schema) VALUES (%(production)s, %(document)s::json, %(schema)s) RETURNING id;

-- shot_write: The shot after a change.
UPDATE shots SET document = %(document)s::json, schema = %(schema)s, revision = %(revision)s, changed = now() WHERE id = %(id)s;

-- shot_delete: Mark as deleted.
UPDATE shots SET deleted = now() WHERE id = %(id)s AND deleted IS NULL RETURNING id, production;

-- shot_restore: Take a deletion back.
UPDATE shots SET deleted = NULL, changed = now() WHERE id = %(id)s AND deleted IS NOT NULL RETURNING id, production;

-- shot_edit_write: One change of a shot.
INSERT INTO edits (shot, revision, kind, gesture, patch, inverse, state, schema)
VALUES (%(id)s, %(revision)s, %(kind)s, %(gesture)s, %(patch)s::json, %(inverse)s::json, %(state)s, %(schema)s);

-- shot_edits_spend: A new edit makes undone ones unreachable.
UPDATE edits SET state = 'spent' WHERE shot = %(id)s AND state = 'undone';

-- shot_edits_since: What changed after a revision.
SELECT revision, kind, patch, schema FROM edits WHERE shot = %(id)s AND revision > %(revision)s ORDER BY revision;

-- shot_edits_to_undo: The latest applied edits that belong to one gesture, newest first.
WITH newest AS (SELECT revision, gesture FROM edits
                WHERE shot = %(id)s AND state = 'applied' ORDER BY revision DESC LIMIT 1),
     barrier AS (SELECT coalesce(max(e.revision), -1) AS revision FROM edits e, newest n
                 WHERE e.shot = %(id)s AND e.state = 'applied' AND e.gesture IS DISTINCT FROM n.gesture)
SELECT e.revision, e.inverse, e.schema FROM edits e, newest n, barrier b
WHERE e.shot = %(id)s AND e.state = 'applied' AND (e.revision = n.revision
      OR (n.gesture IS NOT NULL AND e.gesture = n.gesture AND e.revision > b.revision))
ORDER BY e.revision DESC;

-- shot_edits_to_redo: The earliest undone edits that belong to one gesture, oldest first.
WITH oldest AS (SELECT revision, gesture FROM edits
                WHERE shot = %(id)s AND state = 'undone' ORDER BY revision LIMIT 1),
     barrier AS (SELECT coalesce(min(e.revision), 2147483647) AS revision FROM edits e, oldest o
                 WHERE e.shot = %(id)s AND e.state = 'undone' AND e.gesture IS DISTINCT FROM o.gesture)
SELECT e.revision, e.patch, e.schema FROM edits e, oldest o, barrier b
WHERE e.shot = %(id)s AND e.state = 'undone' AND (e.revision = o.revision
      OR (o.gesture IS NOT NULL AND e.gesture = o.gesture AND e.revision < b.revision))
ORDER BY e.revision;

-- shot_edits_mark: Edits change from applied to undone or back.
UPDATE edits SET state = %(state)s WHERE shot = %(id)s AND revision = ANY(%(revisions)s);
