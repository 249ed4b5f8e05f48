-- What foreign keys asked for each line is asked once per statement.
CREATE OR REPLACE FUNCTION check_new_lines() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  late bigint;
BEGIN
  SELECT n.journal_id INTO late
    FROM (SELECT DISTINCT journal_id FROM new_lines) n LEFT JOIN journal j ON j.id = n.journal_id
   WHERE j.id IS NULL OR j.xmin::text::bigint <> (pg_current_xact_id()::text::bigint & 4294967295)
   LIMIT 1;
  IF FOUND THEN
    RAISE EXCEPTION 'ledger guard: journal % is posted or not there; it takes no more lines', late USING ERRCODE = 'YA001';
  END IF;
  IF EXISTS (SELECT 1 FROM (SELECT DISTINCT account_id FROM new_lines) n WHERE NOT EXISTS (SELECT 1 FROM account a WHERE a.id = n.account_id))
     OR EXISTS (SELECT 1 FROM (SELECT DISTINCT coding_id FROM new_lines) n WHERE NOT EXISTS (SELECT 1 FROM coding k WHERE k.id = n.coding_id)) THEN
    RAISE EXCEPTION 'ledger guard: a line names an account or a coding that is not there' USING ERRCODE = 'YA003';
  END IF;
  RETURN NULL;
END $$;--> statement-breakpoint

-- Openings by coding are summed when they are asked for.
DELETE FROM coding_balance WHERE period_no = 0;--> statement-breakpoint

-- Calendars in memory are told old like the other master data.
CREATE TRIGGER fiscal_year_revised AFTER INSERT OR UPDATE OR DELETE ON fiscal_year FOR EACH STATEMENT EXECUTE FUNCTION count_revision();--> statement-breakpoint
CREATE TRIGGER period_revised AFTER INSERT OR UPDATE OR DELETE ON period FOR EACH STATEMENT EXECUTE FUNCTION count_revision();--> statement-breakpoint
CREATE TRIGGER period_state_revised AFTER INSERT OR UPDATE OR DELETE ON period_state FOR EACH STATEMENT EXECUTE FUNCTION count_revision();
