-- depends: 0005.jobs
-- Imports are long work: the file waits in the database, where any worker finds it, until the import
-- is over; whether somebody works on it is the job's to say.
ALTER TABLE imports ADD COLUMN job_id bigint REFERENCES jobs (id) ON DELETE SET NULL;
ALTER TABLE imports DROP COLUMN stop_asked;
-- Counts who has begun to work on it: whoever was there before, and still is, keeps nothing any more.
ALTER TABLE imports ADD COLUMN turn integer NOT NULL DEFAULT 0;

CREATE TABLE import_pieces (
    import_id bigint NOT NULL REFERENCES imports (id) ON DELETE CASCADE,
    place integer NOT NULL,
    bytes bytea NOT NULL,
    PRIMARY KEY (import_id, place)
);
-- Files are read once: packing them would cost more than it saves.
ALTER TABLE import_pieces ALTER COLUMN bytes SET STORAGE EXTERNAL;
