-- Plans are documents with immutable, numbered revisions.
CREATE TABLE plans (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    name text NOT NULL UNIQUE CHECK (name <> ''),
    latest integer NOT NULL DEFAULT 0 CHECK (latest >= 0),
    created_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE revisions (
    plan_id bigint NOT NULL REFERENCES plans (id),
    number integer NOT NULL CHECK (number > 0),
    author text NOT NULL CHECK (author <> ''),
    words text NOT NULL,
    content_hash text NOT NULL CHECK (content_hash ~ '^[0-9a-f]{64}$'),
    canonical text NOT NULL,
    document jsonb NOT NULL,
    saved_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (plan_id, number)
);

CREATE FUNCTION refuse_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'revision % of plan % is immutable', OLD.number, OLD.plan_id;
END
$$;

CREATE TRIGGER revisions_are_immutable
    BEFORE UPDATE OR DELETE ON revisions
    FOR EACH ROW EXECUTE FUNCTION refuse_change();

-- Results of saved revisions, by what they were computed from and by which engine.
CREATE TABLE results (
    input_hash text NOT NULL CHECK (input_hash ~ '^[0-9a-f]{64}$'),
    engine_version text NOT NULL,
    kind text NOT NULL,
    body text NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (input_hash, engine_version, kind)
);
