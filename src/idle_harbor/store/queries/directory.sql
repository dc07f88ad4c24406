-- name: directory_counts()^
SELECT people, in_none, in_several, groups FROM directory_counts;

-- name: keep_directory_counts(people, in_none, in_several, groups)!
INSERT INTO directory_counts (people, in_none, in_several, groups)
VALUES (:people, :in_none, :in_several, :groups)
ON CONFLICT (one) DO UPDATE
SET people = excluded.people, in_none = excluded.in_none, in_several = excluded.in_several,
    groups = excluded.groups;

-- name: import_goes_on(import_id)$
-- Whether an import is still to be worked on: nobody has let it go, nor ended its job.
SELECT state IN ('reading', 'judging', 'applying') AND (job_id IS NULL OR EXISTS (
    SELECT FROM jobs WHERE id = imports.job_id AND state IN ('waiting', 'running')
)) FROM imports WHERE id = :import_id;

-- name: directory_totals()^
SELECT (SELECT count(*) FROM people) AS people,
       (SELECT count(*) FROM people p
        WHERE NOT EXISTS (SELECT FROM memberships m WHERE m.person_key = p.key)) AS in_none,
       (SELECT count(*) FROM (SELECT FROM memberships GROUP BY person_key
                              HAVING count(*) > 1) AS several) AS in_several;

-- name: directory_groups()
-- Every group with the people in it and in the groups inside it, each counted once.
WITH RECURSIVE inside (group_key, inner_key) AS (
    SELECT key, key FROM directory_groups
    UNION
    SELECT i.group_key, n.child FROM inside i JOIN nestings n ON n.parent = i.inner_key
)
SELECT g.key, g.name, count(DISTINCT m.person_key) AS people,
       coalesce((SELECT array_agg(n.child ORDER BY n.child) FROM nestings n
                 WHERE n.parent = g.key), '{}') AS holds
FROM directory_groups g
JOIN inside i ON i.group_key = g.key
LEFT JOIN memberships m ON m.group_key = i.inner_key
GROUP BY g.key, g.name
ORDER BY people DESC, g.key;

-- name: directory_classes(keys)
-- People by exactly which of some groups they are in.
WITH RECURSIVE inside (group_key, inner_key) AS (
    SELECT key, key FROM directory_groups WHERE key = ANY(:keys)
    UNION
    SELECT i.group_key, n.child FROM inside i JOIN nestings n ON n.parent = i.inner_key
)
SELECT held.groups, count(*) AS people
FROM (SELECT array_agg(DISTINCT i.group_key ORDER BY i.group_key) AS groups
      FROM inside i JOIN memberships m ON m.group_key = i.inner_key
      GROUP BY m.person_key) AS held
GROUP BY held.groups
ORDER BY people DESC;

-- name: begin_import(source, format, directory_id)$
INSERT INTO imports (source, format, directory_id) VALUES (:source, :format, :directory_id)
RETURNING id;

-- name: set_import_size(import_id, bytes_total)!
UPDATE imports SET bytes_total = :bytes_total WHERE id = :import_id;

-- name: end_undecided_imports(directory_id)!
-- A file that was read and never decided on gives way to the next one.
UPDATE imports SET state = 'dropped', ended_at = now()
WHERE state IN ('ready', 'wrong') AND directory_id = :directory_id;

-- name: end_left_imports(stopped)!
-- Imports whose job is over before they are.
UPDATE imports
SET state = CASE WHEN jobs.state = 'failed' THEN 'failed' ELSE 'dropped' END, ended_at = now(),
    problem = CASE WHEN jobs.state = 'failed' THEN jobs.problem ELSE :stopped END
FROM jobs
WHERE imports.state IN ('reading', 'judging', 'applying') AND jobs.id = imports.job_id
  AND jobs.state NOT IN ('waiting', 'running');

-- name: end_imports_without_jobs()!
-- One that has no job is worked on by whoever began it, and gives way to the next.
UPDATE imports SET state = 'failed', ended_at = now(), problem = 'it was left before it was done'
WHERE state IN ('reading', 'judging', 'applying') AND job_id IS NULL;

-- name: begin_turn(import_id, states, state)^
UPDATE imports SET turn = turn + 1, state = :state
WHERE id = :import_id AND state = ANY(:states) RETURNING turn, format;

-- name: set_my_import_state(state, problem, import_id, turn)^
-- The same, for whoever works on it.
UPDATE imports
SET state = :state, problem = :problem,
    ended_at = CASE WHEN :state IN ('applied', 'dropped', 'failed') THEN now() END
WHERE id = :import_id AND turn = :turn AND state IN ('reading', 'judging', 'applying')
RETURNING id;

-- name: give_import_job(import_id, job_id)!
UPDATE imports SET job_id = :job_id WHERE id = :import_id;

-- name: import_owner(import_id)$
SELECT owner FROM jobs WHERE id = (SELECT job_id FROM imports WHERE imports.id = :import_id);

-- name: end_import_job(import_id)!
UPDATE jobs SET state = 'stopped', ended_at = now()
WHERE id = (SELECT job_id FROM imports WHERE imports.id = :import_id)
  AND state IN ('waiting', 'running');

-- name: copy_pieces#
COPY import_pieces (import_id, place, bytes) FROM STDIN (FORMAT BINARY);

-- name: import_piece(import_id, place)$
SELECT bytes FROM import_pieces WHERE import_id = :import_id AND place = :place;

-- name: forget_pieces()!
-- Files of imports that are over.
DELETE FROM import_pieces USING imports
WHERE imports.id = import_pieces.import_id
  AND imports.state NOT IN ('reading', 'judging', 'ready', 'applying');

-- name: import_is_lost(import_id)$
-- Whether what was read of a file is no longer there: a crash of the database empties those tables.
SELECT rows_read > 0 AND NOT EXISTS (SELECT FROM import_people)
    AND NOT EXISTS (SELECT FROM import_groups)
FROM imports WHERE id = :import_id;

-- name: empty_import()#
TRUNCATE import_people, import_groups, import_members, import_faults;

-- name: analyze_import()#
ANALYZE import_people, import_groups, import_members;

-- name: copy_people#
COPY import_people (line, ref, key, name, mail) FROM STDIN;

-- name: copy_groups#
COPY import_groups (line, ref, key, name) FROM STDIN;

-- name: copy_members#
COPY import_members (line, group_ref, member_ref) FROM STDIN;

-- name: copy_faults#
COPY import_faults (line, what, mend) FROM STDIN;

-- name: import_progress(rows_read, bytes_read, import_id, turn)^
UPDATE imports SET rows_read = :rows_read, bytes_read = :bytes_read
WHERE id = :import_id AND turn = :turn RETURNING id;

-- name: set_import_state(state, problem, import_id)!
-- Of one that is not over yet.
UPDATE imports
SET state = :state, problem = :problem,
    ended_at = CASE WHEN :state IN ('applied', 'dropped', 'failed') THEN now() END
WHERE id = :import_id AND state NOT IN ('applied', 'dropped', 'failed');

-- name: lock_import(import_id)^
SELECT state FROM imports WHERE id = :import_id FOR UPDATE;

-- name: import_state(import_id)^
SELECT state, problem FROM imports WHERE id = :import_id;

-- name: latest_import(directory_id)^
SELECT id, source, format, state, bytes_total, bytes_read, rows_read, problem, preview,
       begun_at, ended_at
FROM imports WHERE directory_id = :directory_id ORDER BY id DESC LIMIT 1;

-- name: keep_preview(preview, import_id, turn)^
UPDATE imports SET preview = :preview WHERE id = :import_id AND turn = :turn RETURNING id;

-- name: find_repeated_people(most)!
INSERT INTO import_faults (line, what, mend)
SELECT p.line, 'the key ' || p.key || ' was given before, in line ' || twice.first,
       'keep one of the two rows'
FROM import_people p
JOIN (SELECT key, min(line) AS first FROM import_people
      GROUP BY key HAVING count(*) > 1) AS twice ON twice.key = p.key
WHERE p.line > twice.first
ORDER BY p.line LIMIT :most;

-- name: find_repeated_groups(most)!
INSERT INTO import_faults (line, what, mend)
SELECT g.line, 'the group ' || g.key || ' was given before, in line ' || twice.first,
       'keep one of the two'
FROM import_groups g
JOIN (SELECT key, min(line) AS first FROM import_groups
      GROUP BY key HAVING count(*) > 1) AS twice ON twice.key = g.key
WHERE g.line > twice.first
ORDER BY g.line LIMIT :most;

-- name: find_unknown_members(most)!
INSERT INTO import_faults (line, what, mend)
SELECT m.line, m.member_ref || ' is in a group, but is nobody in this file',
       'add the person or group, or take the member out'
FROM import_members m
WHERE NOT EXISTS (SELECT FROM import_people p WHERE p.ref = m.member_ref)
  AND NOT EXISTS (SELECT FROM import_groups g WHERE g.ref = m.member_ref)
ORDER BY m.line LIMIT :most;

-- name: import_nestings()
SELECT g.key AS parent, c.key AS child, min(m.line) AS line
FROM import_members m
JOIN import_groups g ON g.ref = m.group_ref
JOIN import_groups c ON c.ref = m.member_ref
GROUP BY g.key, c.key
ORDER BY g.key, c.key;

-- name: count_faults()$
SELECT count(*) FROM import_faults;

-- name: list_faults(most)
SELECT line, what, mend FROM import_faults ORDER BY line, what LIMIT :most;

-- name: people_differences()^
SELECT count(*) FILTER (WHERE p.key IS NULL) AS added,
       count(*) FILTER (WHERE i.key IS NULL) AS dropped,
       count(*) FILTER (WHERE p.key IS NOT NULL AND i.key IS NOT NULL
                        AND (p.name, p.mail) IS DISTINCT FROM (i.name, i.mail)) AS changed,
       count(i.key) AS total
FROM import_people i FULL JOIN people p ON p.key = i.key;

-- name: sample_added_people(most)
SELECT i.key, i.name AS now, '' AS before FROM import_people i
WHERE NOT EXISTS (SELECT FROM people p WHERE p.key = i.key)
ORDER BY i.line LIMIT :most;

-- name: sample_changed_people(most)
SELECT i.key, concat_ws(', ', i.name, i.mail) AS now, concat_ws(', ', p.name, p.mail) AS before
FROM import_people i JOIN people p ON p.key = i.key
WHERE (p.name, p.mail) IS DISTINCT FROM (i.name, i.mail)
ORDER BY i.line LIMIT :most;

-- name: sample_dropped_people(most)
SELECT p.key, '' AS now, p.name AS before FROM people p
WHERE NOT EXISTS (SELECT FROM import_people i WHERE i.key = p.key)
ORDER BY p.key LIMIT :most;

-- name: groups_differences()
-- Every group that comes, goes, or whose direct members change, with how many.
WITH coming AS (
    SELECT DISTINCT g.key AS group_key, p.key AS person_key
    FROM import_members m
    JOIN import_groups g ON g.ref = m.group_ref
    JOIN import_people p ON p.ref = m.member_ref
), moves AS (
    SELECT coalesce(c.group_key, m.group_key) AS key,
           count(*) FILTER (WHERE m.person_key IS NULL) AS joining,
           count(*) FILTER (WHERE c.person_key IS NULL) AS leaving
    FROM coming c
    FULL JOIN memberships m
        ON m.group_key = c.group_key AND m.person_key = c.person_key
    GROUP BY 1
)
SELECT coalesce(i.key, g.key) AS key,
       CASE WHEN g.key IS NULL THEN 'added' WHEN i.key IS NULL THEN 'dropped' ELSE 'kept' END AS what,
       coalesce(moves.joining, 0) AS joining, coalesce(moves.leaving, 0) AS leaving
FROM (SELECT DISTINCT key FROM import_groups) AS i
FULL JOIN directory_groups g ON g.key = i.key
LEFT JOIN moves ON moves.key = coalesce(i.key, g.key)
WHERE g.key IS NULL OR i.key IS NULL OR moves.joining > 0 OR moves.leaving > 0
ORDER BY what, key;

-- name: apply_people()#
DELETE FROM people p WHERE NOT EXISTS (SELECT FROM import_people i WHERE i.key = p.key);
UPDATE people p SET name = i.name, mail = i.mail
FROM import_people i
WHERE i.key = p.key AND (p.name, p.mail) IS DISTINCT FROM (i.name, i.mail);
INSERT INTO people (key, name, mail)
SELECT i.key, i.name, i.mail FROM import_people i
WHERE NOT EXISTS (SELECT FROM people p WHERE p.key = i.key)
ORDER BY i.key;

-- name: apply_groups()#
DELETE FROM directory_groups g WHERE NOT EXISTS (SELECT FROM import_groups i WHERE i.key = g.key);
UPDATE directory_groups g SET name = i.name
FROM import_groups i WHERE i.key = g.key AND g.name <> i.name;
INSERT INTO directory_groups (key, name)
SELECT i.key, i.name FROM import_groups i
WHERE NOT EXISTS (SELECT FROM directory_groups g WHERE g.key = i.key);

-- name: apply_members()#
CREATE TEMPORARY TABLE coming ON COMMIT DROP AS
SELECT DISTINCT g.key AS group_key, p.key AS person_key
FROM import_members m
JOIN import_groups g ON g.ref = m.group_ref
JOIN import_people p ON p.ref = m.member_ref;
DELETE FROM memberships m
WHERE NOT EXISTS (SELECT FROM coming c
                  WHERE c.group_key = m.group_key AND c.person_key = m.person_key);
INSERT INTO memberships (group_key, person_key)
SELECT c.group_key, c.person_key FROM coming c
WHERE NOT EXISTS (SELECT FROM memberships m
                  WHERE m.group_key = c.group_key AND m.person_key = c.person_key)
-- In the order of the index: at random, ten million rows would touch every page of it many times.
ORDER BY c.group_key, c.person_key;
DELETE FROM nestings;
INSERT INTO nestings (parent, child)
SELECT DISTINCT g.key, c.key
FROM import_members m
JOIN import_groups g ON g.ref = m.group_ref
JOIN import_groups c ON c.ref = m.member_ref;

-- name: directory_keys(group_key)
-- Keys of a group's people, those of the groups inside it included, in order.
WITH RECURSIVE inside (inner_key) AS (
    SELECT :group_key
    UNION
    SELECT n.child FROM inside i JOIN nestings n ON n.parent = i.inner_key
)
SELECT DISTINCT m.person_key AS key
FROM inside i JOIN memberships m ON m.group_key = i.inner_key
ORDER BY key;
