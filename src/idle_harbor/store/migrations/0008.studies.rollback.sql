DROP VIEW study_progress;
DROP TABLE studies;
