-- depends: 0008.studies
-- A plan that was removed can be restored for a while. Until then it is not listed, and its name is
-- free for another.
ALTER TABLE plans ADD COLUMN removed_at timestamptz;
ALTER TABLE plans DROP CONSTRAINT plans_name_key;
CREATE UNIQUE INDEX plans_by_name ON plans (name) WHERE removed_at IS NULL;

-- Revisions go with their plan, and not otherwise.
ALTER TABLE revisions DROP CONSTRAINT revisions_plan_id_fkey,
    ADD FOREIGN KEY (plan_id) REFERENCES plans (id) ON DELETE CASCADE;
ALTER TABLE studies DROP CONSTRAINT studies_plan_id_fkey,
    ADD FOREIGN KEY (plan_id) REFERENCES plans (id) ON DELETE CASCADE;
CREATE OR REPLACE FUNCTION refuse_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP = 'DELETE' AND NOT EXISTS (SELECT FROM plans WHERE id = OLD.plan_id) THEN
        RETURN OLD;
    END IF;
    RAISE EXCEPTION 'revision % of plan % is immutable', OLD.number, OLD.plan_id;
END
$$;
