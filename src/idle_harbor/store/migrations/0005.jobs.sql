-- depends: 0004.queue
-- Long work: what was asked for, and each of its parts as it gets done. The queue beside it only says
-- who looks at which job next; what is true of a job stands here.
CREATE TABLE jobs (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    kind text NOT NULL,
    -- Of kind, input and engine: the same asked twice is one job.
    key text NOT NULL UNIQUE,
    title text NOT NULL,
    owner text NOT NULL,
    priority integer NOT NULL,
    input jsonb NOT NULL,
    parts integer NOT NULL CHECK (parts > 0),
    state text NOT NULL DEFAULT 'waiting'
        CHECK (state IN ('waiting', 'running', 'done', 'stopped', 'failed')),
    problem text NOT NULL DEFAULT '',
    result jsonb,
    asked_at timestamptz NOT NULL DEFAULT now(),
    begun_at timestamptz,
    ended_at timestamptz
);
CREATE INDEX jobs_by_owner ON jobs (owner, id DESC);

-- Who works on a part holds an advisory lock of that number for as long as their process lives.
CREATE SEQUENCE job_holders AS integer MINVALUE 1 CYCLE;

CREATE TABLE job_parts (
    job_id bigint NOT NULL REFERENCES jobs (id) ON DELETE CASCADE,
    part integer NOT NULL,
    holder integer,
    body jsonb,
    PRIMARY KEY (job_id, part)
);
CREATE INDEX job_parts_to_do ON job_parts (job_id, part) WHERE body IS NULL;
