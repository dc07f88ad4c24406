ALTER TABLE job_parts DROP COLUMN after;
