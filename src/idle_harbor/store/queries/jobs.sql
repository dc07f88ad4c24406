-- name: insert_job(kind, key, title, owner, link, priority, input, engine, parts)^
-- One that was stopped or has failed goes on where it was; what was done of it counts.
INSERT INTO jobs (kind, key, title, owner, link, priority, input, engine, parts)
VALUES (:kind, :key, :title, :owner, :link, :priority, :input, :engine, :parts)
ON CONFLICT (key) DO UPDATE
SET owner = EXCLUDED.owner,
    link = EXCLUDED.link,
    priority = greatest(jobs.priority, EXCLUDED.priority),
    state = CASE WHEN jobs.state IN ('stopped', 'failed') THEN 'waiting' ELSE jobs.state END,
    problem = CASE WHEN jobs.state IN ('stopped', 'failed') THEN '' ELSE jobs.problem END,
    begun_at = CASE WHEN jobs.state IN ('stopped', 'failed') THEN NULL ELSE jobs.begun_at END,
    ended_at = CASE WHEN jobs.state IN ('stopped', 'failed') THEN NULL ELSE jobs.ended_at END
RETURNING id, state, (xmax = 0) AS made;

-- name: insert_parts(job_id, parts)!
INSERT INTO job_parts (job_id, part) SELECT :job_id, generate_series(0, :parts - 1);

-- name: lock_job(job_id)$
SELECT id FROM jobs WHERE id = :job_id FOR NO KEY UPDATE;

-- name: add_parts(job_id, parts)!
-- A job whose parts follow from each other has as many as it turns out to have. The job is locked
-- before: only rows that nobody knows yet go in, for whoever keeps a part waits for the job.
WITH more AS (
    INSERT INTO job_parts (job_id, part)
    SELECT id, generate_series(parts, :parts - 1) FROM jobs WHERE id = :job_id
)
UPDATE jobs SET parts = greatest(parts, :parts) WHERE id = :job_id;

-- name: drop_parts(job_id, parts)!
-- What it turns out not to need goes.
WITH less AS (
    DELETE FROM job_parts WHERE job_id = :job_id AND part >= :parts
)
UPDATE jobs SET parts = :parts, done = least(done, :parts) WHERE id = :job_id;

-- name: tell_so_far(job_id, result)!
UPDATE jobs SET result = :result WHERE id = :job_id AND state = 'running';

-- name: lock_live_jobs()$
-- Until the end of the transaction nobody else makes jobs live: they are counted before and after.
SELECT pg_advisory_xact_lock(2029);

-- name: count_live_jobs(owner)^
SELECT count(*) AS everybodys, count(*) FILTER (WHERE owner = :owner) AS owners
FROM jobs WHERE state IN ('waiting', 'running');

-- name: get_job(job_id)^
SELECT id, kind, title, owner, link, priority, parts, done, state, problem, asked_at, begun_at,
    begun_with, ended_at
FROM jobs WHERE id = :job_id;

-- name: list_jobs(most)
-- What runs or waits first, then what ended last.
SELECT id, kind, title, owner, link, priority, parts, done, state, problem, asked_at, begun_at,
    begun_with, ended_at
FROM jobs
ORDER BY state NOT IN ('waiting', 'running'), coalesce(ended_at, asked_at) DESC, id DESC
LIMIT :most;

-- name: job_input(job_id)^
SELECT kind, key, input, engine, parts, state, priority FROM jobs WHERE id = :job_id;

-- name: note_problem(job_id, problem)$
-- Why a job that waits is not begun; its number where that was not said yet.
UPDATE jobs SET problem = :problem
WHERE id = :job_id AND state = 'waiting' AND problem <> :problem RETURNING id;

-- name: start_again(job_id)^
-- One that was stopped or has failed goes on where it was.
UPDATE jobs SET state = 'waiting', problem = '', begun_at = NULL, ended_at = NULL
WHERE id = :job_id AND state IN ('stopped', 'failed') RETURNING kind, priority, owner;

-- name: count_workers()$
SELECT count(*) FROM pg_locks
WHERE locktype = 'advisory' AND granted AND objsubid = 2 AND classid = 2028
  AND database = (SELECT oid FROM pg_database WHERE datname = current_database());

-- name: job_state(job_id)$
SELECT state FROM jobs WHERE id = :job_id;

-- name: job_result(job_id)^
SELECT state, problem, result FROM jobs WHERE id = :job_id;

-- name: job_parts_done(job_id, since)
-- Finished parts, in order: those kept after one.
SELECT part, body, kept, after FROM job_parts
WHERE job_id = :job_id AND body IS NOT NULL AND kept > :since ORDER BY part;

-- name: begin_job(job_id)$
-- Whether there is anything to do.
UPDATE jobs SET state = 'running', problem = '', begun_at = coalesce(begun_at, now()),
    begun_with = CASE WHEN begun_at IS NULL THEN done ELSE begun_with END
WHERE id = :job_id AND state IN ('waiting', 'running') RETURNING id;

-- name: claim_parts(job_id, holder, many, fewest, below)
-- 2028 stands for who works on parts among advisory locks: a part whose holder has gone is free.
-- The free ones are looked for once: looked for again for each row, more than so many were taken.
-- Towards the end fewer are taken, so that all who work on a job end at about one time.
WITH alive AS MATERIALIZED (
    SELECT objid::bigint::integer AS holder FROM pg_locks
    WHERE locktype = 'advisory' AND granted AND objsubid = 2 AND classid = 2028
      AND database = (SELECT oid FROM pg_database WHERE datname = current_database())
), fair AS (
    SELECT greatest(:fewest, (parts - done) / (2 * greatest(1, (SELECT count(*) FROM alive)))) AS many
    FROM jobs WHERE id = :job_id
), free AS MATERIALIZED (
    SELECT part FROM job_parts
    WHERE job_id = :job_id AND body IS NULL AND part < :below
      AND (holder IS NULL OR holder NOT IN (SELECT holder FROM alive))
    ORDER BY part LIMIT (SELECT least(:many, many) FROM fair) FOR UPDATE SKIP LOCKED
)
-- As an array they are looked up in the index, whatever the planner believes of a table that has
-- just been filled: as a join, thousands of parts were compared with thousands.
UPDATE job_parts SET holder = :holder
WHERE job_id = :job_id AND part = ANY(ARRAY(SELECT part FROM free))
RETURNING part;

-- name: give_back_parts(job_id, holder)!
UPDATE job_parts SET holder = NULL WHERE job_id = :job_id AND holder = :holder AND body IS NULL;

-- name: keep_parts(job_id, done)!
-- What is done is one document of [part, body]: an array of documents costs the client much more.
WITH kept AS (
    UPDATE job_parts SET body = done.body, holder = NULL, kept = nextval('job_parts_kept'),
        after = (SELECT extract(epoch FROM now() - begun_at) FROM jobs WHERE id = :job_id)
    FROM (
        SELECT (item -> 0)::integer AS part, item -> 1 AS body
        FROM jsonb_array_elements(:done) AS items (item)
    ) AS done
    WHERE job_id = :job_id AND job_parts.part = done.part AND job_parts.body IS NULL
    RETURNING 1
)
UPDATE jobs SET done = done + (SELECT count(*) FROM kept) WHERE id = :job_id;

-- name: parts_left(job_id)$
SELECT count(*) FROM job_parts WHERE job_id = :job_id AND body IS NULL;

-- name: end_job(job_id, state, problem, result)!
-- What a job has found of a study is the study's answer.
WITH ended AS (
    UPDATE jobs SET state = :state, problem = :problem, result = :result, ended_at = now()
    WHERE id = :job_id AND state IN ('waiting', 'running')
    RETURNING id, ended_at, CASE WHEN state = 'done' THEN result END AS answer
)
UPDATE studies SET answer = ended.answer, ended_at = ended.ended_at
FROM ended WHERE studies.job_id = ended.id;

-- name: tell_job(job_id)$
-- Whoever listens looks at the job: parts are done, or its state has changed.
SELECT pg_notify('idle_harbor_jobs', :job_id::text);

-- name: jobs_without_help()
-- Jobs with parts that nobody works on, or with none left to do, and no entry of the queue for them.
SELECT id, kind, priority FROM jobs
WHERE state IN ('waiting', 'running')
  AND NOT EXISTS (
    SELECT 1 FROM procrastinate_jobs
    WHERE status = 'todo' AND args ->> 'job_id' = jobs.id::text
) AND (NOT EXISTS (
    SELECT 1 FROM job_parts WHERE job_id = jobs.id AND body IS NULL
) OR EXISTS (
    SELECT 1 FROM job_parts
    WHERE job_id = jobs.id AND body IS NULL AND (holder IS NULL OR holder NOT IN (
        SELECT objid::bigint::integer FROM pg_locks
        WHERE locktype = 'advisory' AND granted AND objsubid = 2 AND classid = 2028
          AND database = (SELECT oid FROM pg_database WHERE datname = current_database())
    ))
));

-- name: others_wait(job_id, queue, priority, fairly)$
-- Whether another job's entry is more urgent, or, where it is somebody's turn, as urgent.
SELECT EXISTS (
    SELECT 1 FROM procrastinate_jobs
    WHERE status = 'todo' AND queue_name = :queue AND args ->> 'job_id' <> :job_id::text
      AND (priority > :priority OR (:fairly AND priority = :priority))
);

-- name: late_jobs(seconds)
-- Jobs that have been worked on for longer than they may.
SELECT id FROM jobs
WHERE state = 'running' AND begun_at < now() - make_interval(secs => :seconds);

-- name: next_holder()$
SELECT nextval('job_holders')::integer;

-- name: hold(holder)$
SELECT pg_advisory_lock(2028, :holder);

-- name: forget_old_jobs(most, days)!
DELETE FROM jobs
WHERE state NOT IN ('waiting', 'running') AND (
    ended_at < now() - make_interval(days => :days) OR id IN (
        SELECT id FROM jobs WHERE state NOT IN ('waiting', 'running')
        ORDER BY ended_at DESC OFFSET :most
    )
);

-- name: forget_old_entries()!
-- Entries of the queue that are over say nothing that is not said elsewhere.
DELETE FROM procrastinate_jobs
WHERE status IN ('succeeded', 'failed', 'cancelled', 'aborted')
   OR (status = 'doing' AND worker_id IS NULL);
