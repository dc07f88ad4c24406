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
    -- The page of the application that shows it; empty where none does.
    link text NOT NULL DEFAULT '',
    priority integer NOT NULL,
    input jsonb NOT NULL,
    -- The engine that the work is asked of; empty where any will do.
    engine text NOT NULL DEFAULT '',
    parts integer NOT NULL CHECK (parts > 0),
    -- Counted as parts are kept: counting millions of them anew for each look would take seconds.
    done integer NOT NULL DEFAULT 0,
    state text NOT NULL DEFAULT 'waiting'
        CHECK (state IN ('waiting', 'running', 'done', 'stopped', 'failed')),
    problem text NOT NULL DEFAULT '',
    result jsonb,
    asked_at timestamptz NOT NULL DEFAULT now(),
    -- When it was begun, or begun again, and how much of it was done by then.
    begun_at timestamptz,
    begun_with integer NOT NULL DEFAULT 0,
    ended_at timestamptz
);
CREATE INDEX jobs_by_owner ON jobs (owner, id DESC);

-- Who works on a part holds an advisory lock of that number for as long as their process lives.
CREATE SEQUENCE job_holders AS integer MINVALUE 1 CYCLE;

-- Parts in the order in which they were kept.
CREATE SEQUENCE job_parts_kept;

CREATE TABLE job_parts (
    job_id bigint NOT NULL REFERENCES jobs (id) ON DELETE CASCADE,
    part integer NOT NULL,
    holder integer,
    body jsonb,
    kept bigint,
    PRIMARY KEY (job_id, part)
);
CREATE INDEX job_parts_in_order ON job_parts (job_id, kept) WHERE body IS NOT NULL;
CREATE INDEX job_parts_to_do ON job_parts (job_id, part) WHERE body IS NULL;
