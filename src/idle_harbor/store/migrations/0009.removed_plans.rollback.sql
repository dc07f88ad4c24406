DELETE FROM plans WHERE removed_at IS NOT NULL;
CREATE OR REPLACE FUNCTION refuse_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'revision % of plan % is immutable', OLD.number, OLD.plan_id;
END
$$;
ALTER TABLE revisions DROP CONSTRAINT revisions_plan_id_fkey,
    ADD FOREIGN KEY (plan_id) REFERENCES plans (id);
ALTER TABLE studies DROP CONSTRAINT studies_plan_id_fkey,
    ADD FOREIGN KEY (plan_id) REFERENCES plans (id);
DROP INDEX plans_by_name;
ALTER TABLE plans DROP COLUMN removed_at, ADD UNIQUE (name);
