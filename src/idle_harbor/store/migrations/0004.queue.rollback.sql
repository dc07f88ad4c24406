DROP TABLE procrastinate_events, procrastinate_periodic_defers, procrastinate_jobs,
    procrastinate_workers CASCADE;
DROP TYPE procrastinate_job_to_defer_v1, procrastinate_job_status,
    procrastinate_job_event_type CASCADE;
