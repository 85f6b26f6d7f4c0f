-- profile_list: Saved profiles by name.
SELECT name, points FROM profiles ORDER BY lower(name);

-- profile_write: Save a profile; one of the same name is replaced.
INSERT INTO profiles (name, points) VALUES (%(name)s, %(points)s::json)
ON CONFLICT (name) DO UPDATE SET points = excluded.points, changed = now();

-- profile_delete: Forget a profile.
DELETE FROM profiles WHERE name = %(name)s RETURNING name;
