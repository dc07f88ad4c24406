DROP TABLE job_parts;
DROP SEQUENCE job_holders;
DROP TABLE jobs;
