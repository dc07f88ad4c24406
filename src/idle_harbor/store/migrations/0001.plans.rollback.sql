DROP TABLE results;
DROP TABLE revisions;
DROP FUNCTION refuse_change();
DROP TABLE plans;
