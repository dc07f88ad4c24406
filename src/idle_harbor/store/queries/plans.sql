-- name: list_plans()
-- Every plan with its latest revision.
SELECT p.id, p.name, r.number, r.author, r.words, r.saved_at,
       jsonb_array_length(r.document -> 'pools') AS pools
FROM plans p
JOIN revisions r ON r.plan_id = p.id AND r.number = p.latest
WHERE p.removed_at IS NULL
ORDER BY r.saved_at DESC, p.id DESC;

-- name: list_removed_plans(days)
-- Plans that can still be restored, the last removed first.
SELECT id, name, removed_at, removed_at + make_interval(days => :days) AS kept_until
FROM plans WHERE removed_at IS NOT NULL ORDER BY removed_at DESC, id DESC;

-- name: remove_plan(plan_id)^
UPDATE plans SET removed_at = now() WHERE id = :plan_id AND removed_at IS NULL RETURNING id;

-- name: restore_plan(plan_id)^
UPDATE plans SET removed_at = NULL WHERE id = :plan_id RETURNING name;

-- name: forget_removed_plans(days)!
DELETE FROM plans WHERE removed_at < now() - make_interval(days => :days);

-- name: insert_plan(name, alike)^
-- A new plan, with the directory of the one that it is a copy of.
INSERT INTO plans (name, latest, directory_id)
VALUES (:name, 1, (SELECT directory_id FROM plans WHERE id = :alike::bigint)) RETURNING id;

-- name: insert_revision(plan_id, number, author, words, content_hash, canonical, shape)^
INSERT INTO revisions (plan_id, number, author, words, content_hash, canonical, document, shape)
VALUES (:plan_id, :number, :author, :words, :content_hash, :canonical::text,
        (:canonical::text)::jsonb, :shape)
RETURNING saved_at;

-- name: lock_plan(plan_id)^
-- The latest revision number of a plan, held until the end of the transaction.
SELECT latest FROM plans WHERE id = :plan_id AND removed_at IS NULL FOR UPDATE;

-- name: advance_plan(number, name, plan_id)!
UPDATE plans SET latest = :number, name = :name WHERE id = :plan_id;

-- name: get_revision(plan_id, number)^
SELECT p.id, p.name, r.number, r.author, r.words, r.content_hash, r.canonical, r.shape,
       r.saved_at, p.latest
FROM plans p
JOIN revisions r ON r.plan_id = p.id
WHERE p.id = :plan_id AND p.removed_at IS NULL AND r.number = coalesce(:number::integer, p.latest);

-- name: list_revisions(plan_id)
SELECT number, author, words, content_hash, saved_at
FROM revisions JOIN plans ON plans.id = revisions.plan_id
WHERE plan_id = :plan_id AND removed_at IS NULL ORDER BY number DESC;

-- name: find_document(name)^
-- The latest document of a plan given by its name, or by its number.
SELECT r.document
FROM plans p JOIN revisions r ON r.plan_id = p.id AND r.number = p.latest
WHERE (p.name = :name OR p.id::text = :name) AND p.removed_at IS NULL
ORDER BY p.name = :name DESC
LIMIT 1;

-- name: count_plans()$
SELECT count(*) FROM plans WHERE removed_at IS NULL;
