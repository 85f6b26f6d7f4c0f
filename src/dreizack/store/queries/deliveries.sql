-- delivery_create: A new order of a shot, as it is now.
INSERT INTO deliveries (shot, revision, document, schema, first, last, width, height, quality, format)
SELECT id, revision, document, schema, %(first)s, %(last)s, %(width)s, %(height)s, %(quality)s, %(format)s
FROM shots WHERE id = %(shot)s AND deleted IS NULL RETURNING id;

-- delivery_create_sequence: A new order of a sequence; the document holds its shots too.
INSERT INTO deliveries (sequence, revision, document, schema, first, last, width, height, quality, format, version)
SELECT id, revision, %(document)s::json, %(schema)s, %(first)s, %(last)s, %(width)s, %(height)s, %(quality)s,
       %(format)s, %(version)s
FROM sequences WHERE id = %(sequence)s AND deleted IS NULL RETURNING id;

-- delivery_list: All orders with their progress: what is rendered now, then the newest first.
SELECT d.id, d.shot, d.sequence, d.revision, d.first, d.last, d.width, d.height, d.quality, d.format, d.version,
       d.state, d.why, d.bytes, d.ordered, d.began, d.ended, d.starts, p.name AS production_name,
       coalesce(d.document->>'name', d.document->'sequence'->>'name') AS name,
       count(f.frame)::int AS done, coalesce(sum(f.seconds) FILTER (WHERE NOT f.kept), 0)::float8 AS seconds,
       count(f.frame) FILTER (WHERE f.kept)::int AS kept, (array_agg(f.frame ORDER BY f.made DESC))[1] AS latest
FROM deliveries d LEFT JOIN shots s ON s.id = d.shot LEFT JOIN sequences q ON q.id = d.sequence
     JOIN productions p ON p.id = coalesce(s.production, q.production)
     LEFT JOIN delivered_frames f ON f.delivery = d.id
WHERE %(id)s::uuid IS NULL OR d.id = %(id)s::uuid
GROUP BY d.id, p.name
ORDER BY (d.state = 'rendering') DESC, d.ordered DESC, d.version, d.format, d.id LIMIT 200;

-- delivery_document: What to render, and what it is called.
SELECT d.document::text AS document, d.schema, d.first, d.last, d.width, d.height, d.quality, d.format, d.version,
       d.state, d.sequence, p.name AS production,
       coalesce(d.document->>'name', d.document->'sequence'->>'name') AS name
FROM deliveries d LEFT JOIN shots s ON s.id = d.shot LEFT JOIN sequences q ON q.id = d.sequence
     JOIN productions p ON p.id = coalesce(s.production, q.production)
WHERE d.id = %(id)s;

-- delivery_pause: It rests; what is rendered stays.
UPDATE deliveries SET state = 'paused' WHERE id = %(id)s AND state IN ('waiting', 'rendering') RETURNING id;

-- delivery_resume: It goes on, or is tried again.
UPDATE deliveries SET state = 'waiting', why = NULL, ended = NULL, losses = 0
WHERE id = %(id)s AND state IN ('paused', 'failed', 'cancelled') RETURNING id;

-- delivery_next: Before all others that wait: its job is taken first (the queue takes the highest priority).
UPDATE procrastinate_jobs j
SET priority = 1 + (SELECT coalesce(max(o.priority), 0) FROM procrastinate_jobs o WHERE o.status = 'todo')
FROM deliveries d
WHERE d.id = %(id)s AND d.state = 'waiting' AND j.args->>'delivery' = d.id::text AND j.status = 'todo' RETURNING j.id;

-- delivery_remove: It is over, and nobody wants to see it any more.
DELETE FROM deliveries WHERE id = %(id)s AND state IN ('complete', 'cancelled', 'failed', 'paused') RETURNING id;

-- delivery_begin: Rendering starts, or starts again after a worker was lost.
UPDATE deliveries SET state = 'rendering', began = coalesce(began, now()), starts = starts + 1
WHERE id = %(id)s AND state IN ('waiting', 'rendering') RETURNING id;

-- delivery_complete: The file is there under its name.
UPDATE deliveries SET state = 'complete', bytes = %(bytes)s, ended = now()
WHERE id = %(id)s AND state = 'rendering' RETURNING id;

-- delivery_fail: It cannot be finished, and why.
UPDATE deliveries SET state = 'failed', why = %(why)s, ended = now() WHERE id = %(id)s AND state <> 'complete';

-- delivery_cancel: Nobody wants it any more.
UPDATE deliveries SET state = 'cancelled', ended = now()
WHERE id = %(id)s AND state IN ('waiting', 'rendering', 'paused') RETURNING id;

-- delivery_lost: Its renderer was lost; how often that has happened since it last came further.
UPDATE deliveries d SET losses = CASE WHEN now.done > d.lost_at THEN 1 ELSE d.losses + 1 END, lost_at = now.done
FROM (SELECT count(*)::int AS done FROM delivered_frames WHERE delivery = %(id)s) now
WHERE d.id = %(id)s RETURNING losses;

-- delivery_state: Is it still wanted?
SELECT state FROM deliveries WHERE id = %(id)s;

-- frame_done: A frame is finished; a frame finished before a restart stays as it was.
INSERT INTO delivered_frames (delivery, frame, kept, seconds)
VALUES (%(delivery)s, %(frame)s, %(kept)s, %(seconds)s) ON CONFLICT DO NOTHING;

-- delivery_orphans: Orders that are open but that no job stands for any more, whatever became of it.
SELECT d.id FROM deliveries d
WHERE d.state IN ('waiting', 'rendering') AND d.ordered < now() - interval '5 seconds'
  AND NOT EXISTS (SELECT 1 FROM procrastinate_jobs j
                  WHERE j.args->>'delivery' = d.id::text AND j.status IN ('todo', 'doing'));

-- delivery_pace: What frames traced lately took, those of one shot or sequence first.
SELECT d.quality, d.width::float8 * d.height AS pixels, f.seconds, o.own
FROM delivered_frames f JOIN deliveries d ON d.id = f.delivery
     CROSS JOIN LATERAL (SELECT coalesce(%(of)s::uuid IN (d.shot, d.sequence), false) AS own) o
WHERE NOT f.kept ORDER BY o.own DESC, f.made DESC LIMIT 600;

-- delivery_states: How many orders are in which state.
SELECT state, count(*)::int AS count FROM deliveries GROUP BY state ORDER BY state;

-- delivery_failures: What failed within a day, latest first.
SELECT coalesce(document->>'name', document->'sequence'->>'name') AS name, why, ended FROM deliveries
WHERE state = 'failed' AND ended > now() - interval '1 day' ORDER BY ended DESC LIMIT %(most)s;
