ALTER TABLE "book" ADD COLUMN "ended" boolean DEFAULT false NOT NULL;--> statement-breakpoint
-- An ended book takes no journal of its own, and what belongs to all books does not ask for it.
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
   WHERE b.id > 0 AND CASE WHEN NEW.book_id = 0 THEN NOT b.ended ELSE b.id = NEW.book_id END
     AND (b.ended OR coalesce(s.state, 'not-yet') NOT IN ('open', 'closing'))
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
END $$;
