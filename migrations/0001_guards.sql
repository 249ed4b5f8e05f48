-- What holds whatever code writes: a journal balances, is whole, stands in an open period and in its chain, and never changes.

CREATE FUNCTION refuse_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  RAISE EXCEPTION 'ledger guard: rows of % are never changed or deleted', TG_TABLE_NAME USING ERRCODE = 'YA001';
END $$;--> statement-breakpoint

CREATE TRIGGER journal_fixed BEFORE UPDATE OR DELETE ON journal FOR EACH ROW EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER journal_kept BEFORE TRUNCATE ON journal FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER journal_line_fixed BEFORE UPDATE OR DELETE ON journal_line FOR EACH ROW EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER journal_line_kept BEFORE TRUNCATE ON journal_line FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER coding_fixed BEFORE UPDATE OR DELETE ON coding FOR EACH ROW EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER audit_event_fixed BEFORE UPDATE OR DELETE ON audit_event FOR EACH ROW EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER audit_event_kept BEFORE TRUNCATE ON audit_event FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER close_record_fixed BEFORE UPDATE OR DELETE ON close_record FOR EACH ROW EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER close_record_kept BEFORE TRUNCATE ON close_record FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint

-- One check per journal, at the end of its transaction.
CREATE FUNCTION check_journal() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  debits numeric;
  credits numeric;
  lines bigint;
  strays bigint;
  previous text;
  head bigint;
  shut text;
BEGIN
  SELECT coalesce(sum(amount) FILTER (WHERE side = 'D'), 0), coalesce(sum(amount) FILTER (WHERE side = 'C'), 0), count(*),
         count(*) FILTER (WHERE (company_id, seq, book_id, year_id, period_no, closing, date)
                             IS DISTINCT FROM (NEW.company_id, NEW.seq, NEW.book_id, NEW.year_id, NEW.period_no, NEW.closing, NEW.date))
    INTO debits, credits, lines, strays
    FROM journal_line WHERE journal_id = NEW.id;
  IF debits <> credits OR debits <> NEW.total THEN
    RAISE EXCEPTION 'ledger guard: journal % does not balance (debits %, credits %, total %)', NEW.number, debits, credits, NEW.total USING ERRCODE = 'YA002';
  END IF;
  IF lines <> NEW.line_count OR lines < 2 OR strays > 0 THEN
    RAISE EXCEPTION 'ledger guard: journal % is not whole (% of % lines, % that differ from their journal)', NEW.number, lines, NEW.line_count, strays USING ERRCODE = 'YA003';
  END IF;
  SELECT b.code INTO shut
    FROM book b
    LEFT JOIN period_state s ON s.year_id = NEW.year_id AND s.no = NEW.period_no AND s.book_id = b.id AND s.area = 'ledger'
   WHERE b.id > 0 AND (NEW.book_id = 0 OR b.id = NEW.book_id) AND coalesce(s.state, 'not-yet') NOT IN ('open', 'closing')
   LIMIT 1;
  IF FOUND THEN
    RAISE EXCEPTION 'ledger guard: journal % lies in a period that is not open in book %', NEW.number, shut USING ERRCODE = 'YA004';
  END IF;
  IF NOT EXISTS (SELECT 1 FROM period p JOIN fiscal_year y ON y.id = p.year_id
                  WHERE p.year_id = NEW.year_id AND p.no = NEW.period_no AND y.company_id = NEW.company_id AND NEW.date BETWEEN p.start_date AND p.end_date) THEN
    RAISE EXCEPTION 'ledger guard: the date of journal % does not lie in its period', NEW.number USING ERRCODE = 'YA004';
  END IF;
  SELECT seq INTO head FROM chain WHERE company_id = NEW.company_id;
  IF NEW.seq > 1 THEN
    SELECT hash INTO previous FROM journal WHERE company_id = NEW.company_id AND seq = NEW.seq - 1;
  ELSE
    previous := '';
  END IF;
  IF head IS NULL OR NEW.seq > head OR previous IS DISTINCT FROM NEW.previous_hash THEN
    RAISE EXCEPTION 'ledger guard: journal % does not follow its predecessor in the chain', NEW.number USING ERRCODE = 'YA005';
  END IF;
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE CONSTRAINT TRIGGER journal_checked AFTER INSERT ON journal DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION check_journal();--> statement-breakpoint

-- Lines arrive with their journal, never later.
CREATE FUNCTION check_new_lines() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  late bigint;
BEGIN
  SELECT n.journal_id INTO late
    FROM (SELECT DISTINCT journal_id FROM new_lines) n JOIN journal j ON j.id = n.journal_id
   WHERE j.xmin::text::bigint <> (pg_current_xact_id()::text::bigint & 4294967295)
   LIMIT 1;
  IF FOUND THEN
    RAISE EXCEPTION 'ledger guard: journal % is posted; it takes no more lines', late USING ERRCODE = 'YA001';
  END IF;
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE TRIGGER journal_line_in_time AFTER INSERT ON journal_line REFERENCING NEW TABLE AS new_lines FOR EACH STATEMENT EXECUTE FUNCTION check_new_lines();--> statement-breakpoint

CREATE FUNCTION check_account() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'DELETE' OR (OLD.type, OLD.control, OLD.number) IS DISTINCT FROM (NEW.type, NEW.control, NEW.number) THEN
    IF EXISTS (SELECT 1 FROM account_balance WHERE account_id = OLD.id LIMIT 1) OR EXISTS (SELECT 1 FROM journal_line WHERE account_id = OLD.id LIMIT 1) THEN
      RAISE EXCEPTION 'ledger guard: account % has postings; its number, type and control kind stay, and it can only be blocked', OLD.number USING ERRCODE = 'YA006';
    END IF;
  END IF;
  RETURN CASE WHEN TG_OP = 'DELETE' THEN OLD ELSE NEW END;
END $$;--> statement-breakpoint
CREATE TRIGGER account_guarded BEFORE UPDATE OR DELETE ON account FOR EACH ROW EXECUTE FUNCTION check_account();--> statement-breakpoint

CREATE FUNCTION check_chain() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'DELETE' OR NEW.seq < OLD.seq THEN
    RAISE EXCEPTION 'ledger guard: the chain of a company only grows' USING ERRCODE = 'YA005';
  END IF;
  RETURN NEW;
END $$;--> statement-breakpoint
CREATE TRIGGER chain_grows BEFORE UPDATE OR DELETE ON chain FOR EACH ROW EXECUTE FUNCTION check_chain();--> statement-breakpoint

CREATE FUNCTION check_document() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF OLD.number IS NOT NULL AND (TG_OP = 'DELETE' OR NEW.number IS DISTINCT FROM OLD.number OR NEW.kind <> OLD.kind) THEN
    RAISE EXCEPTION 'ledger guard: document % has its number and keeps it', OLD.number USING ERRCODE = 'YA001';
  END IF;
  RETURN CASE WHEN TG_OP = 'DELETE' THEN OLD ELSE NEW END;
END $$;--> statement-breakpoint
CREATE TRIGGER document_guarded BEFORE UPDATE OR DELETE ON document FOR EACH ROW EXECUTE FUNCTION check_document();--> statement-breakpoint

-- Copies of master data in memory are told old by this counter.
INSERT INTO revision (id, n) VALUES (1, 1);--> statement-breakpoint
CREATE FUNCTION count_revision() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE revision SET n = n + 1 WHERE id = 1;
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE TRIGGER company_revised AFTER INSERT OR UPDATE OR DELETE ON company FOR EACH STATEMENT EXECUTE FUNCTION count_revision();--> statement-breakpoint
CREATE TRIGGER book_revised AFTER INSERT OR UPDATE OR DELETE ON book FOR EACH STATEMENT EXECUTE FUNCTION count_revision();--> statement-breakpoint
CREATE TRIGGER account_revised AFTER INSERT OR UPDATE OR DELETE ON account FOR EACH STATEMENT EXECUTE FUNCTION count_revision();--> statement-breakpoint
CREATE TRIGGER heading_revised AFTER INSERT OR UPDATE OR DELETE ON heading FOR EACH STATEMENT EXECUTE FUNCTION count_revision();--> statement-breakpoint
CREATE TRIGGER account_dimension_revised AFTER INSERT OR UPDATE OR DELETE ON account_dimension FOR EACH STATEMENT EXECUTE FUNCTION count_revision();--> statement-breakpoint
CREATE TRIGGER dimension_revised AFTER INSERT OR UPDATE OR DELETE ON dimension FOR EACH STATEMENT EXECUTE FUNCTION count_revision();--> statement-breakpoint
CREATE TRIGGER dimension_value_revised AFTER INSERT OR UPDATE OR DELETE ON dimension_value FOR EACH STATEMENT EXECUTE FUNCTION count_revision();--> statement-breakpoint
CREATE TRIGGER journal_type_revised AFTER INSERT OR UPDATE OR DELETE ON journal_type FOR EACH STATEMENT EXECUTE FUNCTION count_revision();--> statement-breakpoint

INSERT INTO book (id, code, name) VALUES (0, 'ALL', 'All books');--> statement-breakpoint
INSERT INTO coding (id, key, value_ids) OVERRIDING SYSTEM VALUE VALUES (1, '', '{}');--> statement-breakpoint
SELECT setval(pg_get_serial_sequence('coding', 'id'), 1);
