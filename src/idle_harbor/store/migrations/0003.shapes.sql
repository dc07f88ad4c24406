-- depends: 0002.directory
-- The shape of plan documents in which a revision was saved: one of today's shape is sent as it is.
ALTER TABLE revisions ADD COLUMN shape text NOT NULL DEFAULT '';

-- Large documents are kept by the quicker compression, where the server was built with it.
DO $$
BEGIN
    ALTER TABLE revisions ALTER COLUMN document SET COMPRESSION lz4;
    ALTER TABLE revisions ALTER COLUMN canonical SET COMPRESSION lz4;
EXCEPTION WHEN feature_not_supported THEN
    NULL;
END
$$;

-- What the page shows of the directory, counted once when it changes and not at each look.
CREATE TABLE directory_counts (
    one boolean PRIMARY KEY DEFAULT true CHECK (one),
    people bigint NOT NULL,
    in_none bigint NOT NULL,
    in_several bigint NOT NULL,
    groups jsonb NOT NULL
);
