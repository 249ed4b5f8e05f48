-- The register says of a journal what the journal says: it cannot belong to another company, lie on
-- another day or be of another amount or currency. Checked once per journal, at the end of its
-- transaction; a registered journal keeps all of it afterwards.
UPDATE document d SET company_id = j.company_id, date = j.date, amount = j.total, currency = c.currency
  FROM journal j JOIN company c ON c.id = j.company_id
  WHERE d.id = j.id AND (d.company_id, d.date, d.amount, d.currency) IS DISTINCT FROM (j.company_id, j.date, j.total, c.currency);--> statement-breakpoint
UPDATE document SET amount = -amount WHERE kind = 'invoice' AND type = 'credit note' AND amount > 0;--> statement-breakpoint
CREATE FUNCTION check_register() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NOT EXISTS (SELECT 1 FROM document d JOIN company c ON c.id = NEW.company_id
                  WHERE d.id = NEW.id AND d.kind = 'journal' AND d.number = NEW.number AND d.company_id = NEW.company_id
                    AND d.date = NEW.date AND d.amount = NEW.total AND d.currency = c.currency) THEN
    RAISE EXCEPTION 'ledger guard: the register does not say of journal % what it says itself', NEW.number USING ERRCODE = 'YA006';
  END IF;
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE CONSTRAINT TRIGGER journal_register AFTER INSERT ON journal DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION check_register();--> statement-breakpoint
CREATE FUNCTION keep_register() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF OLD.kind = 'journal' AND OLD.status IN ('posted', 'reversed')
     AND (NEW.company_id, NEW.date, NEW.amount, NEW.currency, NEW.kind) IS DISTINCT FROM (OLD.company_id, OLD.date, OLD.amount, OLD.currency, OLD.kind) THEN
    RAISE EXCEPTION 'ledger guard: the register entry of journal % is never changed', OLD.number USING ERRCODE = 'YA001';
  END IF;
  RETURN NEW;
END $$;--> statement-breakpoint
CREATE TRIGGER document_register BEFORE UPDATE OF company_id, date, amount, currency, kind ON document FOR EACH ROW EXECUTE FUNCTION keep_register();
