-- Quantities (currency XXX) need no counter entry; in one foreign currency a journal balances too.
CREATE OR REPLACE FUNCTION check_journal() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  debits numeric;
  credits numeric;
  lines bigint;
  money bigint;
  strays bigint;
  currencies bigint;
  foreign_net numeric;
  previous text;
  head bigint;
  shut text;
BEGIN
  SELECT coalesce(sum(amount) FILTER (WHERE side = 'D' AND currency <> 'XXX'), 0), coalesce(sum(amount) FILTER (WHERE side = 'C' AND currency <> 'XXX'), 0), count(*), count(*) FILTER (WHERE currency <> 'XXX'),
         count(DISTINCT currency) FILTER (WHERE currency <> 'XXX'), coalesce(sum(CASE WHEN side = 'D' THEN foreign_amount ELSE -foreign_amount END) FILTER (WHERE currency <> 'XXX'), 0),
         count(*) FILTER (WHERE (company_id, seq, book_id, year_id, period_no, closing, date)
                             IS DISTINCT FROM (NEW.company_id, NEW.seq, NEW.book_id, NEW.year_id, NEW.period_no, NEW.closing, NEW.date))
    INTO debits, credits, lines, money, currencies, foreign_net, strays
    FROM journal_line WHERE journal_id = NEW.id;
  IF debits <> credits OR debits <> NEW.total THEN
    RAISE EXCEPTION 'ledger guard: journal % does not balance (debits %, credits %, total %)', NEW.number, debits, credits, NEW.total USING ERRCODE = 'YA002';
  END IF;
  IF currencies = 1 AND foreign_net <> 0 THEN
    RAISE EXCEPTION 'ledger guard: journal % does not balance in its currency (it differs by %)', NEW.number, foreign_net USING ERRCODE = 'YA002';
  END IF;
  IF lines <> NEW.line_count OR lines < 1 OR money = 1 OR strays > 0 THEN
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
  IF EXISTS (SELECT 1 FROM (SELECT DISTINCT account_id, currency = 'XXX' AS units FROM new_lines) n JOIN account a ON a.id = n.account_id WHERE (a.type = 'units') <> n.units) THEN
    RAISE EXCEPTION 'ledger guard: quantities stand on accounts of units, and money on the others' USING ERRCODE = 'YA003';
  END IF;
  RETURN NULL;
END $$;--> statement-breakpoint

CREATE TRIGGER company_pair_revised AFTER INSERT OR UPDATE OR DELETE ON company_pair FOR EACH STATEMENT EXECUTE FUNCTION count_revision();--> statement-breakpoint
CREATE TRIGGER setting_revised AFTER INSERT OR UPDATE OR DELETE ON setting FOR EACH STATEMENT EXECUTE FUNCTION count_revision();--> statement-breakpoint

-- Journals by hand reach partners, with what an open item needs.
UPDATE journal_type SET controls = '["payables", "receivables"]'::jsonb WHERE code IN ('general', 'accrual', 'correction');
