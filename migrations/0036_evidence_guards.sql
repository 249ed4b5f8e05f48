-- What is evidence is not changed or taken out, whatever code or hand writes: outside the steps that
-- the work itself takes.

CREATE TRIGGER open_item_whole BEFORE TRUNCATE ON open_item FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER allocation_whole BEFORE TRUNCATE ON allocation FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER allocation_line_whole BEFORE TRUNCATE ON allocation_line FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER payment_whole BEFORE TRUNCATE ON payment FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER payment_item_whole BEFORE TRUNCATE ON payment_item FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER payment_file_whole BEFORE TRUNCATE ON payment_file FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER cheque_whole BEFORE TRUNCATE ON cheque FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER grni_entry_whole BEFORE TRUNCATE ON grni_entry FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER receipt_line_whole BEFORE TRUNCATE ON receipt_line FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER tax_record_whole BEFORE TRUNCATE ON tax_record FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER tax_declaration_whole BEFORE TRUNCATE ON tax_declaration FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER document_whole BEFORE TRUNCATE ON document FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER document_link_whole BEFORE TRUNCATE ON document_link FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER document_writer_whole BEFORE TRUNCATE ON document_writer FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER attachment_whole BEFORE TRUNCATE ON attachment FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER remark_whole BEFORE TRUNCATE ON remark FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER approval_whole BEFORE TRUNCATE ON approval FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER invoice_whole BEFORE TRUNCATE ON invoice FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER coding_whole BEFORE TRUNCATE ON coding FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER chain_whole BEFORE TRUNCATE ON chain FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER number_counter_whole BEFORE TRUNCATE ON number_counter FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER account_balance_whole BEFORE TRUNCATE ON account_balance FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER period_state_whole BEFORE TRUNCATE ON period_state FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint

CREATE TRIGGER tax_record_fixed BEFORE UPDATE OR DELETE ON tax_record FOR EACH ROW EXECUTE FUNCTION refuse_change();--> statement-breakpoint

-- A payment is as it was posted; it is noted once with which file it went, and why it was undone.
CREATE FUNCTION keep_payment() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'DELETE' OR (to_jsonb(NEW) - 'file_id' - 'reason') <> (to_jsonb(OLD) - 'file_id' - 'reason')
     OR (OLD.file_id IS NOT NULL AND NEW.file_id IS DISTINCT FROM OLD.file_id)
     OR (OLD.reason <> '' AND NEW.reason <> OLD.reason) THEN
    RAISE EXCEPTION 'ledger guard: a payment stays as it was posted' USING ERRCODE = 'YA001';
  END IF;
  RETURN NEW;
END $$;--> statement-breakpoint
CREATE TRIGGER payment_fixed BEFORE UPDATE OR DELETE ON payment FOR EACH ROW EXECUTE FUNCTION keep_payment();--> statement-breakpoint

-- A cheque is what came out of the printer; void, cancelled and missing ones stay so.
CREATE FUNCTION keep_cheque() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'DELETE'
     OR (to_jsonb(NEW) - 'state' - 'reason' - 'prints' - 'payment_id' - 'decided_by' - 'decided_at')
        <> (to_jsonb(OLD) - 'state' - 'reason' - 'prints' - 'payment_id' - 'decided_by' - 'decided_at')
     OR (OLD.payment_id IS NOT NULL AND NEW.payment_id IS DISTINCT FROM OLD.payment_id)
     OR NEW.prints < OLD.prints
     OR (OLD.state IN ('voided', 'cancelled', 'missing') AND NEW.state <> OLD.state) THEN
    RAISE EXCEPTION 'ledger guard: cheque % stays as it was printed', OLD.number USING ERRCODE = 'YA001';
  END IF;
  RETURN NEW;
END $$;--> statement-breakpoint
CREATE TRIGGER cheque_fixed BEFORE UPDATE OR DELETE ON cheque FOR EACH ROW EXECUTE FUNCTION keep_cheque();--> statement-breakpoint

-- Papers of what is posted stay, and none is ever another one. Those of a draft go with it.
CREATE FUNCTION keep_paper() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'UPDATE' OR EXISTS (SELECT 1 FROM document d WHERE d.id = OLD.document_id
      AND d.status NOT IN ('draft', 'waiting', 'held')) THEN
    RAISE EXCEPTION 'ledger guard: a paper stays as it was added' USING ERRCODE = 'YA001';
  END IF;
  RETURN OLD;
END $$;--> statement-breakpoint
CREATE TRIGGER attachment_fixed BEFORE UPDATE OR DELETE ON attachment FOR EACH ROW EXECUTE FUNCTION keep_paper();--> statement-breakpoint

-- Remarks, links and writers go with a draft that is deleted, and else never.
CREATE FUNCTION keep_beside_document() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE there boolean;
BEGIN
  IF TG_OP = 'UPDATE' THEN
    RAISE EXCEPTION 'ledger guard: rows of % are never changed', TG_TABLE_NAME USING ERRCODE = 'YA001';
  END IF;
  IF TG_TABLE_NAME = 'document_link' THEN
    there := EXISTS (SELECT 1 FROM document d WHERE d.id = (to_jsonb(OLD)->>'from_id')::bigint)
      AND EXISTS (SELECT 1 FROM document d WHERE d.id = (to_jsonb(OLD)->>'to_id')::bigint);
  ELSE
    there := EXISTS (SELECT 1 FROM document d WHERE d.id = (to_jsonb(OLD)->>'document_id')::bigint);
  END IF;
  IF there THEN
    RAISE EXCEPTION 'ledger guard: rows of % are never deleted', TG_TABLE_NAME USING ERRCODE = 'YA001';
  END IF;
  RETURN OLD;
END $$;--> statement-breakpoint
CREATE TRIGGER remark_fixed BEFORE UPDATE OR DELETE ON remark FOR EACH ROW EXECUTE FUNCTION keep_beside_document();--> statement-breakpoint
CREATE TRIGGER document_link_fixed BEFORE UPDATE OR DELETE ON document_link FOR EACH ROW EXECUTE FUNCTION keep_beside_document();--> statement-breakpoint
CREATE TRIGGER document_writer_fixed BEFORE UPDATE OR DELETE ON document_writer FOR EACH ROW EXECUTE FUNCTION keep_beside_document();--> statement-breakpoint

-- What was asked for is decided once.
CREATE FUNCTION keep_approval() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'DELETE' THEN
    IF EXISTS (SELECT 1 FROM document d WHERE d.id = OLD.document_id) THEN
      RAISE EXCEPTION 'ledger guard: an approval stays' USING ERRCODE = 'YA001';
    END IF;
    RETURN OLD;
  END IF;
  IF OLD.state <> 'waiting'
     OR (to_jsonb(NEW) - 'state' - 'decided_by' - 'decided_at' - 'reason')
        <> (to_jsonb(OLD) - 'state' - 'decided_by' - 'decided_at' - 'reason') THEN
    RAISE EXCEPTION 'ledger guard: an approval stays as it was decided' USING ERRCODE = 'YA001';
  END IF;
  RETURN NEW;
END $$;--> statement-breakpoint
CREATE TRIGGER approval_fixed BEFORE UPDATE OR DELETE ON approval FOR EACH ROW EXECUTE FUNCTION keep_approval();--> statement-breakpoint

-- What a posted invoice says and came to.
CREATE FUNCTION keep_invoice() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF OLD.figures IS NOT NULL AND (TG_OP = 'DELETE'
      OR (NEW.content, NEW.figures, NEW.journal_id, NEW.partner_id, NEW.number_key)
         IS DISTINCT FROM (OLD.content, OLD.figures, OLD.journal_id, OLD.partner_id, OLD.number_key)) THEN
    RAISE EXCEPTION 'ledger guard: an invoice stays as it was posted' USING ERRCODE = 'YA001';
  END IF;
  RETURN CASE WHEN TG_OP = 'DELETE' THEN OLD ELSE NEW END;
END $$;--> statement-breakpoint
CREATE TRIGGER invoice_fixed BEFORE UPDATE OR DELETE ON invoice FOR EACH ROW EXECUTE FUNCTION keep_invoice();--> statement-breakpoint

-- What was posted is not drafted again.
CREATE OR REPLACE FUNCTION check_document() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF OLD.number IS NOT NULL AND (TG_OP = 'DELETE' OR NEW.number IS DISTINCT FROM OLD.number OR NEW.kind <> OLD.kind) THEN
    RAISE EXCEPTION 'ledger guard: document % has its number and keeps it', OLD.number USING ERRCODE = 'YA001';
  END IF;
  IF TG_OP = 'UPDATE' AND OLD.number IS NOT NULL AND OLD.kind IN ('journal', 'invoice', 'payment', 'receipt')
     AND NEW.status <> OLD.status AND NEW.status IN ('draft', 'waiting', 'held') THEN
    RAISE EXCEPTION 'ledger guard: document % is posted and no draft again', OLD.number USING ERRCODE = 'YA001';
  END IF;
  RETURN CASE WHEN TG_OP = 'DELETE' THEN OLD ELSE NEW END;
END $$;--> statement-breakpoint

-- What is left of an item follows from its allocations, looked at when the transaction ends.
CREATE FUNCTION check_item_left() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE bad bigint;
BEGIN
  SELECT i.id INTO bad FROM open_item i, LATERAL (
      SELECT coalesce(sum(l.amount), 0) AS amount, coalesce(sum(l.functional), 0) AS functional
      FROM allocation_line l WHERE l.item_id = i.id) t
    WHERE i.id = NEW.id
      AND (i.left_amount <> i.amount - t.amount OR i.left_functional <> i.functional - t.functional);
  IF bad IS NOT NULL THEN
    RAISE EXCEPTION 'ledger guard: what is left of item % does not follow from its allocations', bad USING ERRCODE = 'YA006';
  END IF;
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE CONSTRAINT TRIGGER open_item_left_follows AFTER UPDATE OF left_amount, left_functional ON open_item
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION check_item_left();--> statement-breakpoint

-- The head of a chain is its last journal.
CREATE FUNCTION check_chain_head() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NOT EXISTS (SELECT 1 FROM chain c JOIN journal j ON j.company_id = c.company_id AND j.seq = c.seq
      AND j.hash = c.hash WHERE c.company_id = NEW.company_id)
     AND EXISTS (SELECT 1 FROM chain c WHERE c.company_id = NEW.company_id AND c.seq > 0) THEN
    RAISE EXCEPTION 'ledger guard: the head of a chain is its last journal' USING ERRCODE = 'YA005';
  END IF;
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE CONSTRAINT TRIGGER chain_head AFTER UPDATE ON chain
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION check_chain_head();--> statement-breakpoint

-- A number is given once: counters go up.
CREATE FUNCTION check_counter() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'DELETE' OR NEW.last < OLD.last
     OR (NEW.series, NEW.company_id, NEW.year_id) IS DISTINCT FROM (OLD.series, OLD.company_id, OLD.year_id) THEN
    RAISE EXCEPTION 'ledger guard: a counter of numbers only goes up' USING ERRCODE = 'YA005';
  END IF;
  RETURN NEW;
END $$;--> statement-breakpoint
CREATE TRIGGER number_counter_grows BEFORE UPDATE OR DELETE ON number_counter FOR EACH ROW EXECUTE FUNCTION check_counter();--> statement-breakpoint

-- A period changes its state with a record of who changed it, why, and where the chain stood.
CREATE FUNCTION check_period_state() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NEW.state IS DISTINCT FROM (SELECT r.to_state FROM close_record r WHERE r.year_id = NEW.year_id
      AND r.no = NEW.no AND r.book_id = NEW.book_id AND r.area = NEW.area ORDER BY r.id DESC LIMIT 1) THEN
    RAISE EXCEPTION 'ledger guard: a period changes its state with a record of it' USING ERRCODE = 'YA004';
  END IF;
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE TRIGGER period_state_stays BEFORE DELETE ON period_state FOR EACH ROW EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE CONSTRAINT TRIGGER period_state_recorded AFTER UPDATE ON period_state
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW WHEN (OLD.state IS DISTINCT FROM NEW.state) EXECUTE FUNCTION check_period_state();
