-- fleet_order: Frames of a shot are to be shared out; what a lost delivery left behind goes.
WITH old AS (DELETE FROM fleet_orders WHERE made < now() - interval '2 days')
INSERT INTO fleet_orders (document, width, height, quality)
VALUES (%(document)s, %(width)s, %(height)s, %(quality)s) RETURNING id;

-- fleet_offer: A picture is wanted; where another delivery wants the same, it is that one.
INSERT INTO fleet_frames (key, part_of, place, at, passed, named)
SELECT * FROM unnest(%(keys)s::text[], %(orders)s::uuid[], %(places)s::int[], %(at)s::float8[], %(passed)s::text[],
                     %(named)s::text[])
ON CONFLICT (key) DO NOTHING;

-- fleet_claim: A picture is ours; nothing comes back where another one is at it. What was never offered is ours, too.
WITH there AS (SELECT key FROM fleet_frames WHERE key = %(key)s),
     mine AS (UPDATE fleet_frames SET taken_by = %(who)s, until = now() + %(seconds)s * interval '1 second'
              WHERE key = %(key)s AND (taken_by IN ('', %(who)s) OR until < now()) RETURNING key)
SELECT 1 AS ours WHERE EXISTS (SELECT 1 FROM mine) OR NOT EXISTS (SELECT 1 FROM there);

-- fleet_take: The next picture nobody is at, of one order or of any.
UPDATE fleet_frames SET taken_by = %(who)s, until = now() + %(seconds)s * interval '1 second'
WHERE key = (SELECT f.key FROM fleet_frames f JOIN fleet_orders o ON o.id = f.part_of
             WHERE (f.taken_by = '' OR f.until < now()) AND (%(part_of)s::uuid IS NULL OR f.part_of = %(part_of)s)
             ORDER BY o.made, f.place FOR UPDATE OF f SKIP LOCKED LIMIT 1)
RETURNING key, part_of, at, passed, named;

-- fleet_read: An order whose frames are shared out.
SELECT id, document, width, height, quality FROM fleet_orders WHERE id = %(id)s;

-- fleet_held: A picture somebody is at.
SELECT f.key, f.passed, f.named, o.width, o.height, o.quality FROM fleet_frames f JOIN fleet_orders o ON o.id = f.part_of
WHERE f.key = %(key)s AND f.taken_by = %(who)s;

-- fleet_done: A picture is there.
DELETE FROM fleet_frames WHERE key = %(key)s RETURNING key;

-- fleet_let_go: Somebody cannot do a picture after all.
UPDATE fleet_frames SET taken_by = '', until = NULL WHERE key = %(key)s AND taken_by = %(who)s RETURNING key;

-- fleet_end: Nothing of an order is wanted any more.
DELETE FROM fleet_orders WHERE id = %(id)s RETURNING id;

-- fleet_forgotten: What a machine was at that asks for the next one goes to others, but for what it is bringing back.
UPDATE fleet_frames SET taken_by = '', until = NULL WHERE taken_by = %(who)s AND key <> %(holds)s;

-- fleet_seen: A machine is there; what it is at stays its own for a while.
WITH held AS (UPDATE fleet_frames SET until = now() + %(seconds)s * interval '1 second' WHERE taken_by = %(who)s)
INSERT INTO fleet_machines (name) VALUES (%(name)s)
ON CONFLICT (name) DO UPDATE SET seen = now() RETURNING name;

-- fleet_did: A machine has done a picture.
UPDATE fleet_machines SET frames = frames + 1, seconds = seconds + %(took)s, seen = now() WHERE name = %(name)s RETURNING name;

-- fleet_machines: Who helps, and what each is at.
SELECT m.name, m.frames, m.seconds, extract(epoch FROM now() - m.seen)::float8 AS ago,
       (SELECT count(*) FROM fleet_frames f WHERE starts_with(f.taken_by, m.name || ' #') AND f.until >= now())::int AS at_it
FROM fleet_machines m WHERE m.seen > now() - interval '1 day' ORDER BY m.name;

-- fleet_helped: Whether anybody helps just now.
SELECT EXISTS (SELECT 1 FROM fleet_machines WHERE seen > now() - %(seconds)s * interval '1 second') AS helped;

-- fleet_left: How many pictures nobody is at.
SELECT count(*)::int AS left FROM fleet_frames WHERE taken_by = '' OR until < now();
