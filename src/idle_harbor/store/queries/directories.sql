-- name: directory_of_plan(plan_id)^
SELECT directory_id FROM plans WHERE id = :plan_id AND removed_at IS NULL;

-- name: lock_directory_of_plan(plan_id)^
-- The same with the plan's name, held until the end of the transaction.
SELECT directory_id, name FROM plans WHERE id = :plan_id AND removed_at IS NULL FOR UPDATE;

-- name: insert_directory(name)$
INSERT INTO directories (name) VALUES (:name) RETURNING id;

-- name: make_directory(directory_id)^
SELECT make_directory(:directory_id);

-- name: give_directory(plan_id, directory_id)^
UPDATE plans SET directory_id = :directory_id
WHERE id = :plan_id AND removed_at IS NULL RETURNING id;

-- name: lock_directory(directory_id)^
SELECT id FROM directories WHERE id = :directory_id FOR SHARE;

-- name: list_directories()
-- Every directory with its people and the plans that share it.
SELECT d.id, d.name, d.people,
       coalesce(array_agg(p.name ORDER BY p.name) FILTER (WHERE p.removed_at IS NULL AND p.id IS NOT NULL),
                '{}') AS plans
FROM directories d LEFT JOIN plans p ON p.directory_id = d.id
GROUP BY d.id ORDER BY d.name, d.id;

-- name: directory_of_import(import_id)$
SELECT directory_id FROM imports WHERE id = :import_id;

-- name: note_directory_people(directory_id, people)!
UPDATE directories SET people = :people WHERE id = :directory_id;

-- name: note_unused_directories()!
-- Since when no plan has them, removed plans that can be restored included.
UPDATE directories d SET unused_since = CASE WHEN unused THEN now() END
FROM (SELECT id, NOT EXISTS (SELECT FROM plans p WHERE p.directory_id = directories.id) AS unused
      FROM directories) AS found
WHERE found.id = d.id AND found.unused <> (d.unused_since IS NOT NULL);

-- name: forget_unused_directories(days)
SELECT drop_directory(id) FROM directories
WHERE unused_since < now() - make_interval(days => :days)
  AND NOT EXISTS (SELECT FROM plans WHERE directory_id = directories.id);
