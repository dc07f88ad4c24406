-- depends: 0007.job_seconds
-- Studies stay until somebody removes them; the job that works on one is forgotten some time after
-- it has ended. A study has the number of the job that worked on it first.
CREATE TABLE studies (
    id bigint PRIMARY KEY,
    job_id bigint UNIQUE REFERENCES jobs (id) ON DELETE SET NULL,
    plan_id bigint REFERENCES plans (id),
    title text NOT NULL,
    owner text NOT NULL,
    link text NOT NULL,
    question jsonb NOT NULL,
    -- The plan that it is of, as a document.
    plan jsonb NOT NULL,
    currency text NOT NULL,
    -- What that plan promises of what is on the axis.
    promised double precision NOT NULL,
    answer jsonb,
    asked_at timestamptz NOT NULL,
    ended_at timestamptz
);
-- A study without its plan, and how far its job is; of a job that is forgotten, how it ended.
CREATE VIEW study_progress AS
SELECT studies.id, studies.plan_id, studies.question, studies.currency, studies.promised,
    studies.answer, jobs.result -> 'so_far' AS so_far, studies.title, studies.owner, studies.link,
    'study' AS kind, coalesce(jobs.priority, 0) AS priority, coalesce(jobs.parts, 1) AS parts,
    coalesce(jobs.done, 1) AS done, coalesce(jobs.begun_with, 0) AS begun_with,
    coalesce(jobs.state, CASE WHEN answer IS NULL THEN 'stopped' ELSE 'done' END) AS state,
    coalesce(jobs.problem, '') AS problem, studies.asked_at, jobs.begun_at,
    coalesce(jobs.ended_at, studies.ended_at) AS ended_at
FROM studies LEFT JOIN jobs ON jobs.id = studies.job_id;
CREATE INDEX studies_by_plan ON studies (plan_id, id DESC);

-- Answers had a mean with half its interval, and each part of the promise as a field of its own.
CREATE FUNCTION interval_of(found jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
    SELECT jsonb_build_object(
        'mean', found -> 'mean',
        'low', (found ->> 'mean')::numeric - (found ->> 'half')::numeric,
        'high', (found ->> 'mean')::numeric + (found ->> 'half')::numeric
    ) || CASE WHEN (found ->> 'unbounded')::boolean THEN '{"unbounded": true}' ELSE '{}' END::jsonb
$$;
CREATE FUNCTION point_of(old jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
    SELECT CASE WHEN old ? 'wait_p95' THEN
        old - '{wait_p95,refused,strained,lost,forced,comfort}'::text[] || jsonb_build_object(
            'money', interval_of(old -> 'money'),
            'promised', jsonb_build_object(
                'wait_p95_seconds', interval_of(old -> 'wait_p95'),
                'refused_share', interval_of(old -> 'refused'),
                'strained_share', interval_of(old -> 'strained'),
                'lost_returns', interval_of(old -> 'lost'),
                'forced_share', interval_of(old -> 'forced'),
                'comfort', interval_of(old -> 'comfort')
            )
        )
    ELSE old END
$$;
CREATE FUNCTION points_of(old jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
    SELECT coalesce(jsonb_agg(point_of(each) ORDER BY place), '[]')
    FROM jsonb_array_elements(old) WITH ORDINALITY AS points (each, place)
$$;
CREATE FUNCTION explained_of(old jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
    SELECT CASE WHEN jsonb_typeof(old) = 'object' THEN old || jsonb_build_object('steps', (
        SELECT coalesce(jsonb_agg(step - 'wait' ORDER BY place), '[]')
        FROM jsonb_array_elements(old -> 'steps') WITH ORDINALITY AS steps (step, place)
    )) ELSE old END
$$;

INSERT INTO studies (
    id, job_id, plan_id, title, owner, link, question, plan, currency, promised, answer, asked_at,
    ended_at
)
SELECT jobs.id, jobs.id, plans.id, title, owner, link, input -> 'question', input -> 'plan',
    input #>> '{plan,currency}',
    coalesce(
        (
            SELECT (pool -> 'promise' ->> (input #>> '{question,axis}'))::double precision
            FROM jsonb_array_elements(input #> '{plan,pools}') AS pools (pool)
            WHERE pool ->> 'id' = input #>> '{question,pool}'
        ),
        (input #> '{plan,promise}' ->> (input #>> '{question,axis}'))::double precision,
        0
    ),
    CASE WHEN result ? 'verdict' THEN result || jsonb_build_object(
        'current', point_of(result -> 'current'),
        'rules', points_of(result -> 'rules'),
        'front', points_of(result -> 'front'),
        'tuned', CASE WHEN jsonb_typeof(result -> 'tuned') = 'object'
            THEN point_of(result -> 'tuned') END,
        'explained', explained_of(result -> 'explained')
    ) END,
    asked_at, ended_at
FROM jobs LEFT JOIN plans ON plans.id = (input ->> 'plan_id')::bigint
WHERE kind = 'study';

DROP FUNCTION points_of, explained_of, point_of, interval_of;
