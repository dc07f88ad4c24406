-- name: note_study(job_id, plan_id, question, plan, currency, promised)!
-- A study with the job that works on it. Where that job is done already, its result is the answer.
INSERT INTO studies (
    id, job_id, plan_id, title, owner, link, question, plan, currency, promised, answer, asked_at,
    ended_at
)
SELECT id, id, (SELECT plans.id FROM plans WHERE plans.id = :plan_id), title, owner, link,
    :question, :plan, :currency, :promised, CASE WHEN state = 'done' THEN result END, asked_at,
    ended_at
FROM jobs WHERE id = :job_id
ON CONFLICT (id) DO UPDATE SET owner = EXCLUDED.owner, link = EXCLUDED.link;

-- name: get_study(study_id)^
SELECT * FROM study_progress WHERE id = :study_id;

-- name: studies_of(plan_id, most)
-- The studies of a plan, the newest first; of their answers what a list tells.
SELECT id, plan_id, question, currency, promised, NULL::jsonb AS so_far, title, owner, link, kind,
    priority, parts, done, begun_with, state, problem, asked_at, begun_at, ended_at,
    CASE WHEN answer IS NOT NULL THEN jsonb_build_object(
        'verdict', answer -> 'verdict', 'current', answer -> 'current', 'tuned', answer -> 'tuned'
    ) END AS answer
FROM study_progress
WHERE plan_id = :plan_id
ORDER BY id DESC LIMIT :most;

-- name: study_plan(study_id)^
SELECT plan FROM studies WHERE id = :study_id;

-- name: remove_study(study_id)$
DELETE FROM studies WHERE id = :study_id RETURNING id;

-- name: remove_job(job_id)!
DELETE FROM jobs WHERE id = :job_id;
