-- sequence_list: Sequences of a production in order.
SELECT id, production, revision, document->>'name' AS name, document, created, changed
FROM sequences WHERE production = %(production)s AND deleted IS NULL ORDER BY place;

-- sequence_read: A sequence as it is now, and whether there is anything to undo or redo.
SELECT s.id, s.production, s.revision, s.document::text AS document, s.schema, s.changed, p.name AS production_name,
       EXISTS (SELECT 1 FROM sequence_edits e WHERE e.sequence = s.id AND e.state = 'applied') AS can_undo,
       EXISTS (SELECT 1 FROM sequence_edits e WHERE e.sequence = s.id AND e.state = 'undone') AS can_redo
FROM sequences s JOIN productions p ON p.id = s.production
WHERE s.id = %(id)s AND s.deleted IS NULL AND p.deleted IS NULL;

-- sequence_lock: The same row held until the transaction ends: edits of one sequence go one after the other.
SELECT revision, document::text AS document, schema FROM sequences WHERE id = %(id)s AND deleted IS NULL FOR UPDATE;

-- sequence_create: A new sequence.
INSERT INTO sequences (production, document, schema) VALUES (%(production)s, %(document)s::json, %(schema)s) RETURNING id;

-- sequence_write: The sequence after a change.
UPDATE sequences SET document = %(document)s::json, schema = %(schema)s, revision = %(revision)s, changed = now()
WHERE id = %(id)s;

-- sequence_delete: Mark as deleted.
UPDATE sequences SET deleted = now() WHERE id = %(id)s AND deleted IS NULL RETURNING id, production;

-- sequence_restore: Take a deletion back.
UPDATE sequences SET deleted = NULL, changed = now() WHERE id = %(id)s AND deleted IS NOT NULL RETURNING id, production;

-- sequence_shots: The shots that a sequence names, as they are now.
SELECT id, document::text AS document, schema, revision FROM shots
WHERE id = ANY(%(shots)s) AND production = %(production)s AND deleted IS NULL;

-- sequence_edit_write: One change of a sequence.
INSERT INTO sequence_edits (sequence, revision, kind, gesture, patch, inverse, state, schema)
VALUES (%(id)s, %(revision)s, %(kind)s, %(gesture)s, %(patch)s::json, %(inverse)s::json, %(state)s, %(schema)s);

-- sequence_edits_spend: A new edit makes undone ones unreachable.
UPDATE sequence_edits SET state = 'spent' WHERE sequence = %(id)s AND state = 'undone';

-- sequence_edits_since: What changed after a revision.
SELECT revision, kind, patch, schema FROM sequence_edits WHERE sequence = %(id)s AND revision > %(revision)s ORDER BY revision;

-- sequence_edits_to_undo: The latest applied edits that belong to one gesture, newest first.
WITH newest AS (SELECT revision, gesture FROM sequence_edits
                WHERE sequence = %(id)s AND state = 'applied' ORDER BY revision DESC LIMIT 1),
     barrier AS (SELECT coalesce(max(e.revision), -1) AS revision FROM sequence_edits e, newest n
                 WHERE e.sequence = %(id)s AND e.state = 'applied' AND e.gesture IS DISTINCT FROM n.gesture)
SELECT e.revision, e.inverse, e.schema FROM sequence_edits e, newest n, barrier b
WHERE e.sequence = %(id)s AND e.state = 'applied' AND (e.revision = n.revision
      OR (n.gesture IS NOT NULL AND e.gesture = n.gesture AND e.revision > b.revision))
ORDER BY e.revision DESC;

-- sequence_edits_to_redo: The earliest undone edits that belong to one gesture, oldest first.
WITH oldest AS (SELECT revision, gesture FROM sequence_edits
                WHERE sequence = %(id)s AND state = 'undone' ORDER BY revision LIMIT 1),
     barrier AS (SELECT coalesce(min(e.revision), 2147483647) AS revision FROM sequence_edits e, oldest o
                 WHERE e.sequence = %(id)s AND e.state = 'undone' AND e.gesture IS DISTINCT FROM o.gesture)
SELECT e.revision, e.patch, e.schema FROM sequence_edits e, oldest o, barrier b
WHERE e.sequence = %(id)s AND e.state = 'undone' AND (e.revision = o.revision
      OR (o.gesture IS NOT NULL AND e.gesture = o.gesture AND e.revision < b.revision))
ORDER BY e.revision;

-- sequence_edits_mark: Edits change from applied to undone or back.
UPDATE sequence_edits SET state = %(state)s WHERE sequence = %(id)s AND revision = ANY(%(revisions)s);
