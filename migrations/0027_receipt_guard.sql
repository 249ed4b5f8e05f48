-- Of a receipt line never more is taken than came: what went back, was invoiced and was written off
-- of it leaves nil or more, whoever works on it at the same moment. What goes back after it was
-- invoiced is a line of its own, below nil until its credit note comes, and never above.
CREATE FUNCTION check_receipt_line() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  came numeric;
  there numeric;
  remaining numeric;
BEGIN
  SELECT quantity INTO came FROM receipt_line WHERE id = NEW.receipt_line_id;
  SELECT coalesce(sum(quantity) FILTER (WHERE kind IN ('received', 'returned')), 0), coalesce(sum(quantity), 0)
    INTO there, remaining FROM grni_entry WHERE receipt_line_id = NEW.receipt_line_id;
  IF (came >= 0 AND (there < 0 OR remaining < 0)) OR (came < 0 AND (there > 0 OR remaining > 0)) THEN
    RAISE EXCEPTION 'ledger guard: of receipt line % more is taken than came (% there, % left)', NEW.receipt_line_id, there, remaining USING ERRCODE = 'YA008';
  END IF;
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE CONSTRAINT TRIGGER grni_entry_never_below_nil AFTER INSERT ON grni_entry DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION check_receipt_line();
