DROP TABLE import_pieces;
ALTER TABLE imports ADD COLUMN stop_asked boolean NOT NULL DEFAULT false;
ALTER TABLE imports DROP COLUMN turn;
ALTER TABLE imports DROP COLUMN job_id;
