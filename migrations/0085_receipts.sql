CREATE TABLE "receipt" (
	"document_id" bigint PRIMARY KEY NOT NULL,
	"bank_account_id" integer NOT NULL,
	"partner" text NOT NULL,
	"payer" text NOT NULL,
	"discount" bigint DEFAULT 0 NOT NULL,
	"journal_id" bigint NOT NULL
);
--> statement-breakpoint
CREATE TABLE "receipt_item" (
	"receipt_id" bigint NOT NULL,
	"item_id" bigint NOT NULL,
	"taken" bigint NOT NULL,
	"functional" bigint NOT NULL,
	"discount" bigint DEFAULT 0 NOT NULL,
	CONSTRAINT "receipt_item_receipt_id_item_id_pk" PRIMARY KEY("receipt_id","item_id")
);
--> statement-breakpoint
ALTER TABLE "document" DROP CONSTRAINT "document_kind";--> statement-breakpoint
ALTER TABLE "payment" DROP CONSTRAINT "payment_method";--> statement-breakpoint
ALTER TABLE "receipt" ADD CONSTRAINT "receipt_document_id_document_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."document"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "receipt" ADD CONSTRAINT "receipt_bank_account_id_bank_account_id_fk" FOREIGN KEY ("bank_account_id") REFERENCES "public"."bank_account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "receipt_item" ADD CONSTRAINT "receipt_item_receipt_id_receipt_document_id_fk" FOREIGN KEY ("receipt_id") REFERENCES "public"."receipt"("document_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "receipt_item" ADD CONSTRAINT "receipt_item_item_id_open_item_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."open_item"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "receipt_journal" ON "receipt" USING btree ("journal_id");--> statement-breakpoint
CREATE INDEX "receipt_partner_index" ON "receipt" USING btree ("partner");--> statement-breakpoint
CREATE INDEX "receipt_item_item_id_index" ON "receipt_item" USING btree ("item_id");--> statement-breakpoint
ALTER TABLE "document" ADD CONSTRAINT "document_kind" CHECK ("document"."kind" in ('journal', 'batch', 'recurring', 'invoice', 'request', 'order', 'goods-receipt', 'recurring-invoice', 'payment', 'receipt', 'deposit', 'reconciliation', 'run'));--> statement-breakpoint
ALTER TABLE "payment" ADD CONSTRAINT "payment_method" CHECK ("payment"."method" in ('transfer', 'cheque', 'manual', 'bill', 'note', 'debit', 'refund'));--> statement-breakpoint
INSERT INTO number_series (code, prefix, digits)
  SELECT 'receipt', CASE WHEN EXISTS (SELECT 1 FROM number_series WHERE prefix = 'C') THEN 'RC' ELSE 'C' END, 5
  WHERE EXISTS (SELECT 1 FROM number_series WHERE code = 'payment')
  AND NOT EXISTS (SELECT 1 FROM number_series WHERE code = 'receipt');--> statement-breakpoint
-- A receipt stays as it was posted; that it was reversed says the register.
CREATE TRIGGER receipt_fixed BEFORE UPDATE OR DELETE ON receipt FOR EACH ROW EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER receipt_item_fixed BEFORE UPDATE OR DELETE ON receipt_item FOR EACH ROW EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER receipt_whole BEFORE TRUNCATE ON receipt FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER receipt_item_whole BEFORE TRUNCATE ON receipt_item FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
-- What was posted is not drafted again.
CREATE OR REPLACE FUNCTION check_document() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF OLD.number IS NOT NULL AND (TG_OP = 'DELETE' OR NEW.number IS DISTINCT FROM OLD.number OR NEW.kind <> OLD.kind) THEN
    RAISE EXCEPTION 'ledger guard: document % has its number and keeps it', OLD.number USING ERRCODE = 'YA001';
  END IF;
  IF TG_OP = 'UPDATE' AND OLD.number IS NOT NULL
     AND OLD.kind IN ('journal', 'invoice', 'payment', 'receipt', 'goods-receipt')
     AND NEW.status <> OLD.status AND NEW.status IN ('draft', 'waiting', 'held') THEN
    RAISE EXCEPTION 'ledger guard: document % is posted and no draft again', OLD.number USING ERRCODE = 'YA001';
  END IF;
  RETURN CASE WHEN TG_OP = 'DELETE' THEN OLD ELSE NEW END;
END $$;
