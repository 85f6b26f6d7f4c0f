-- solve_create: A new wish: which clip, its focal length in pixels of what is solved where that is known, what is left out.
INSERT INTO solves (clip, focal, left_out, left_out_key)
VALUES (%(clip)s, %(focal)s, %(left_out)s, %(left_out_key)s) RETURNING id;

-- solve_like: The same wish, if it is under way or has come to something.
SELECT id FROM solves WHERE clip = %(clip)s AND focal IS NOT DISTINCT FROM %(focal)s
  AND left_out_key = %(left_out_key)s AND state IN ('waiting', 'solving', 'complete') ORDER BY asked DESC LIMIT 1;

-- solve_latest: The latest wish for a clip.
SELECT id, clip, focal, state, what, share, file, why, cuts FROM solves WHERE clip = %(clip)s ORDER BY asked DESC LIMIT 1;

-- solve_read: One wish.
SELECT id, clip, focal, state, what, share, file, why, cuts FROM solves WHERE id = %(id)s;

-- solve_begin: Somebody works on it, or works on it again after a worker was lost.
UPDATE solves SET state = 'solving', what = '', share = 0
WHERE id = %(id)s AND state IN ('waiting', 'solving') RETURNING clip, focal, left_out;

-- solve_told: How far it is; nothing comes back where nobody wants it any more.
UPDATE solves SET what = %(what)s, share = %(share)s WHERE id = %(id)s AND state = 'solving' RETURNING id;

-- solve_complete: The file is there.
UPDATE solves SET state = 'complete', share = 1, file = %(file)s, ended = now()
WHERE id = %(id)s AND state = 'solving' RETURNING id;

-- solve_fail: It cannot be done, and why; where there are cuts.
UPDATE solves SET state = 'failed', why = %(why)s, cuts = %(cuts)s, ended = now() WHERE id = %(id)s AND state IN ('waiting', 'solving');

-- solve_cancel: Nobody wants it any more.
UPDATE solves SET state = 'cancelled', ended = now() WHERE id = %(id)s AND state IN ('waiting', 'solving') RETURNING id;

-- solve_orphans: Wishes that are open but that no job stands for any more.
SELECT s.id FROM solves s
WHERE s.state IN ('waiting', 'solving') AND s.asked < now() - interval '5 seconds'
  AND NOT EXISTS (SELECT 1 FROM procrastinate_jobs j
                  WHERE j.args->>'solve' = s.id::text AND j.status IN ('todo', 'doing'));
