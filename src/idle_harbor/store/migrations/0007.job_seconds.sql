-- depends: 0006.import_jobs
-- How many seconds after its job was begun a part was kept: work that ends by the clock ends at the
-- same part for all who work on it, whenever they look.
ALTER TABLE job_parts ADD COLUMN after double precision;
