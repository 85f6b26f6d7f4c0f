-- production_list: Productions that are not deleted, latest work first, with their shots' number and first shot.
SELECT p.id, p.name, p.created, greatest(p.changed, max(s.changed)) AS changed,
       count(s.id)::int AS shots, (array_agg(s.id ORDER BY s.place))[1] AS poster_shot
FROM productions p LEFT JOIN shots s ON s.production = p.id AND s.deleted IS NULL
WHERE p.deleted IS NULL
GROUP BY p.id ORDER BY 4 DESC;

-- production_read: One production.
SELECT id, name, created, changed FROM productions WHERE id = %(id)s AND deleted IS NULL;

-- production_create: A new production.
INSERT INTO productions (name) VALUES (%(name)s) RETURNING id, name, created, changed;

-- production_rename: Another name.
UPDATE productions SET name = %(name)s, changed = now() WHERE id = %(id)s AND deleted IS NULL
RETURNING id, name, created, changed;

-- production_delete: Mark as deleted; everything stays.
UPDATE productions SET deleted = now() WHERE id = %(id)s AND deleted IS NULL RETURNING id;

-- production_restore: Take a deletion back.
UPDATE productions SET deleted = NULL, changed = now() WHERE id = %(id)s AND deleted IS NOT NULL
RETURNING id, name, created, changed;

-- productions_deleted: Productions that were deleted, latest first.
SELECT 'production' AS kind, id, name, deleted FROM productions WHERE deleted IS NOT NULL
ORDER BY deleted DESC LIMIT 50;

-- deleted_in: Shots and sequences of a production that were deleted, latest first.
SELECT 'shot' AS kind, id, document->>'name' AS name, deleted
FROM shots WHERE production = %(production)s AND deleted IS NOT NULL
UNION ALL
SELECT 'sequence', id, document->>'name', deleted
FROM sequences WHERE production = %(production)s AND deleted IS NOT NULL
ORDER BY deleted DESC LIMIT 50;

-- production_copy: A copy under another name, shots included.
WITH copy AS (INSERT INTO productions (name) VALUES (%(name)s) RETURNING id, name, created, changed),
     shots AS (INSERT INTO shots (production, document, schema)
               SELECT copy.id, s.document, s.schema FROM shots s, copy
               WHERE s.production = %(id)s AND s.deleted IS NULL ORDER BY s.place)
SELECT id, name, created, changed FROM copy;

-- production_ever: Whether there has ever been a production here, deleted ones included.
SELECT EXISTS (SELECT 1 FROM productions) AS ever;

-- production_shots: The shots of a production whole, in order.
SELECT id, document::text AS document, schema FROM shots
WHERE production = %(production)s AND deleted IS NULL ORDER BY place;

-- production_takes: The takes of all shots of a production.
SELECT takes.shot, takes.name, takes.document::text AS document, takes.schema
FROM takes JOIN shots ON shots.id = takes.shot
WHERE shots.production = %(production)s AND shots.deleted IS NULL ORDER BY takes.shot, takes.saved;

-- production_sequences: The sequences of a production whole, in order.
SELECT id, document::text AS document, schema FROM sequences
WHERE production = %(production)s AND deleted IS NULL ORDER BY place;
