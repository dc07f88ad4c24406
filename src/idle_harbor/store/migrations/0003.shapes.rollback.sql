DROP TABLE directory_counts;
ALTER TABLE revisions DROP COLUMN shape;
