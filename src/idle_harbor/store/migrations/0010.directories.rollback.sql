-- The first directory is the one that all plans had; the others go.
DO $$
DECLARE
    each text;
    number bigint;
BEGIN
    IF NOT EXISTS (SELECT FROM directories) THEN
        INSERT INTO directories (id, name) VALUES (1, 'Directory');
        PERFORM make_directory(1);
    END IF;
    SELECT min(id) INTO number FROM directories;
    FOREACH each IN ARRAY ARRAY['people', 'directory_groups', 'memberships', 'nestings',
        'directory_counts', 'import_people', 'import_groups', 'import_members',
        'import_faults'] LOOP
        EXECUTE format('ALTER TABLE %I.%I SET SCHEMA public', 'directory_' || number, each);
    END LOOP;
    DELETE FROM imports WHERE directory_id <> number;
    ALTER TABLE imports DROP COLUMN directory_id;
    ALTER TABLE plans DROP COLUMN directory_id;
    PERFORM drop_directory(id) FROM directories;
END
$$;
DROP FUNCTION drop_directory(bigint);
DROP FUNCTION make_directory(bigint);
CREATE UNIQUE INDEX one_import_at_a_time ON imports ((true))
    WHERE state IN ('reading', 'judging', 'ready', 'wrong', 'applying');
DROP TABLE directories;
