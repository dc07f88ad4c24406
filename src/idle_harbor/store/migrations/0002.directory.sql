-- depends: 0001.plans
-- The directory: people and their groups, as the last import left them.
CREATE TABLE people (
    key text PRIMARY KEY CHECK (key <> ''),
    name text NOT NULL CHECK (name <> ''),
    mail text NOT NULL DEFAULT ''
);

CREATE TABLE directory_groups (
    key text PRIMARY KEY CHECK (key <> ''),
    name text NOT NULL CHECK (name <> '')
);

CREATE TABLE memberships (
    group_key text NOT NULL REFERENCES directory_groups (key) ON DELETE CASCADE,
    person_key text NOT NULL REFERENCES people (key) ON DELETE CASCADE,
    PRIMARY KEY (group_key, person_key)
);
CREATE INDEX memberships_of_person ON memberships (person_key);

-- Groups in groups; an import with a circle is refused.
CREATE TABLE nestings (
    parent text NOT NULL REFERENCES directory_groups (key) ON DELETE CASCADE,
    child text NOT NULL REFERENCES directory_groups (key) ON DELETE CASCADE,
    PRIMARY KEY (parent, child),
    CHECK (parent <> child)
);

-- Imports: one at a time is being read, judged or applied.
CREATE TABLE imports (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    source text NOT NULL,
    format text NOT NULL CHECK (format IN ('csv', 'ldif', 'scim')),
    state text NOT NULL DEFAULT 'reading'
        CHECK (state IN ('reading', 'judging', 'ready', 'wrong', 'applying', 'applied', 'dropped',
                         'failed')),
    bytes_total bigint NOT NULL DEFAULT 0,
    bytes_read bigint NOT NULL DEFAULT 0,
    rows_read bigint NOT NULL DEFAULT 0,
    stop_asked boolean NOT NULL DEFAULT false,
    problem text NOT NULL DEFAULT '',
    preview jsonb,
    begun_at timestamptz NOT NULL DEFAULT now(),
    ended_at timestamptz
);
CREATE UNIQUE INDEX one_import_at_a_time ON imports ((true))
    WHERE state IN ('reading', 'judging', 'ready', 'wrong', 'applying');

-- What the import under way has read. A crash empties these: the import has then failed anyway.
CREATE UNLOGGED TABLE import_people (
    line bigint NOT NULL, ref text NOT NULL, key text NOT NULL, name text NOT NULL,
    mail text NOT NULL
);
CREATE UNLOGGED TABLE import_groups (
    line bigint NOT NULL, ref text NOT NULL, key text NOT NULL, name text NOT NULL
);
CREATE UNLOGGED TABLE import_members (
    line bigint NOT NULL, group_ref text NOT NULL, member_ref text NOT NULL
);
CREATE UNLOGGED TABLE import_faults (
    line bigint NOT NULL, what text NOT NULL, mend text NOT NULL
);
