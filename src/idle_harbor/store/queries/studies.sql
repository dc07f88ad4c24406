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
-- A study without its plan, and how far the job is; of a job that is forgotten, how it ended.
SELECT studies.id, studies.plan_id, studies.question, studies.currency, studies.promised,
    studies.answer, jobs.result -> 'so_far' AS so_far, studies.title, studies.owner, studies.link,
    'study' AS kind, coalesce(jobs.priority, 0) AS priority, coalesce(jobs.parts, 1) AS parts,
    coalesce(jobs.done, 1) AS done, coalesce(jobs.begun_with, 0) AS begun_with,
    coalesce(jobs.state, CASE WHEN answer IS NULL THEN 'stopped' ELSE 'done' END) AS state,
    coalesce(jobs.problem, '') AS problem, studies.asked_at, jobs.begun_at,
    coalesce(jobs.ended_at, studies.ended_at) AS ended_at
FROM studies LEFT JOIN jobs ON jobs.id = studies.job_id
WHERE studies.id = :study_id;

-- name: studies_of(plan_id, most)
-- The studies of a plan, the newest first; of their answers what a list tells.
SELECT studies.id, studies.plan_id, studies.question, studies.currency, studies.promised,
    CASE WHEN answer IS NOT NULL THEN jsonb_build_object(
        'verdict', answer -> 'verdict', 'current', answer -> 'current', 'tuned', answer -> 'tuned'
    ) END AS answer,
    NULL::jsonb AS so_far, studies.title, studies.owner, studies.link,
    'study' AS kind, coalesce(jobs.priority, 0) AS priority, coalesce(jobs.parts, 1) AS parts,
    coalesce(jobs.done, 1) AS done, coalesce(jobs.begun_with, 0) AS begun_with,
    coalesce(jobs.state, CASE WHEN answer IS NULL THEN 'stopped' ELSE 'done' END) AS state,
    coalesce(jobs.problem, '') AS problem, studies.asked_at, jobs.begun_at,
    coalesce(jobs.ended_at, studies.ended_at) AS ended_at
FROM studies LEFT JOIN jobs ON jobs.id = studies.job_id
WHERE studies.plan_id = :plan_id
ORDER BY studies.id DESC LIMIT :most;

-- name: study_plan(study_id)^
SELECT plan FROM studies WHERE id = :study_id;

-- name: remove_study(study_id)$
DELETE FROM studies WHERE id = :study_id RETURNING id;

-- name: remove_job(job_id)!
DELETE FROM jobs WHERE id = :job_id;
