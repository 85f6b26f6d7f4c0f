-- search: Shots and sequences whose name, words or production hold a text, the latest first.
SELECT * FROM (
    SELECT 'shot' AS kind, s.id, s.document->>'name' AS name, p.id AS production, p.name AS of, s.changed,
           coalesce((SELECT string_agg(t.value->>'words', ' · ') FROM json_each(s.document->'things') t), '') AS words
    FROM shots s JOIN productions p ON p.id = s.production WHERE s.deleted IS NULL AND p.deleted IS NULL
    UNION ALL
    SELECT 'sequence', q.id, q.document->>'name', p.id, p.name, q.changed, ''
    FROM sequences q JOIN productions p ON p.id = q.production WHERE q.deleted IS NULL AND p.deleted IS NULL
) found
WHERE position(lower(%(text)s) IN lower(name || ' ' || replace(words, E'\n', ' ') || ' ' || of)) > 0
ORDER BY changed DESC LIMIT 60;

-- documents_that_name: Every text that may name a file of the library: as things are, were, and may become again.
SELECT document::text AS text FROM shots
UNION ALL SELECT document::text FROM takes
UNION ALL SELECT document::text FROM sequences
UNION ALL SELECT content::text FROM kept
UNION ALL SELECT document::text FROM deliveries
UNION ALL SELECT patch::text || inverse::text FROM edits WHERE state <> 'spent'
UNION ALL SELECT patch::text || inverse::text FROM sequence_edits WHERE state <> 'spent'
UNION ALL SELECT coalesce(clip, '') || '" "' || coalesce(file, '') FROM solves WHERE state IN ('waiting', 'solving');
