DROP TABLE job_parts;
DROP SEQUENCE job_holders, job_parts_kept;
DROP TABLE jobs;
