-- Receipts are the money of customers: receipts of goods have a name of their own.
ALTER TABLE "receipt_line" RENAME TO "goods_receipt_line";--> statement-breakpoint
ALTER SEQUENCE "receipt_line_id_seq" RENAME TO "goods_receipt_line_id_seq";--> statement-breakpoint
ALTER TABLE "goods_receipt_line" RENAME CONSTRAINT "receipt_line_receipt_id_document_id_fk" TO "goods_receipt_line_receipt_id_document_id_fk";--> statement-breakpoint
ALTER TABLE "goods_receipt_line" RENAME CONSTRAINT "receipt_line_order_line_id_order_line_id_fk" TO "goods_receipt_line_order_line_id_order_line_id_fk";--> statement-breakpoint
ALTER TABLE "grni_entry" RENAME CONSTRAINT "grni_entry_receipt_line_id_receipt_line_id_fk" TO "grni_entry_receipt_line_id_goods_receipt_line_id_fk";--> statement-breakpoint
ALTER INDEX "receipt_line_receipt_id_index" RENAME TO "goods_receipt_line_receipt_id_index";--> statement-breakpoint
ALTER INDEX "receipt_line_order_line_id_index" RENAME TO "goods_receipt_line_order_line_id_index";--> statement-breakpoint
CREATE OR REPLACE FUNCTION check_receipt_line() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  came numeric;
  there numeric;
  remaining numeric;
BEGIN
  SELECT quantity INTO came FROM goods_receipt_line WHERE id = NEW.receipt_line_id;
  SELECT coalesce(sum(quantity) FILTER (WHERE kind IN ('received', 'returned')), 0), coalesce(sum(quantity), 0)
    INTO there, remaining FROM grni_entry WHERE receipt_line_id = NEW.receipt_line_id;
  IF (came >= 0 AND (there < 0 OR remaining < 0)) OR (came < 0 AND (there > 0 OR remaining > 0)) THEN
    RAISE EXCEPTION 'ledger guard: of goods receipt line % more is taken than came (% there, % left)', NEW.receipt_line_id, there, remaining USING ERRCODE = 'YA008';
  END IF;
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE OR REPLACE FUNCTION check_document() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF OLD.number IS NOT NULL AND (TG_OP = 'DELETE' OR NEW.number IS DISTINCT FROM OLD.number OR NEW.kind <> OLD.kind) THEN
    RAISE EXCEPTION 'ledger guard: document % has its number and keeps it', OLD.number USING ERRCODE = 'YA001';
  END IF;
  IF TG_OP = 'UPDATE' AND OLD.number IS NOT NULL AND OLD.kind IN ('journal', 'invoice', 'payment', 'goods-receipt')
     AND NEW.status <> OLD.status AND NEW.status IN ('draft', 'waiting', 'held') THEN
    RAISE EXCEPTION 'ledger guard: document % is posted and no draft again', OLD.number USING ERRCODE = 'YA001';
  END IF;
  RETURN CASE WHEN TG_OP = 'DELETE' THEN OLD ELSE NEW END;
END $$;--> statement-breakpoint
ALTER TABLE "document" DROP CONSTRAINT "document_kind";--> statement-breakpoint
ALTER TABLE "document" DISABLE TRIGGER USER;--> statement-breakpoint
UPDATE document SET kind = 'goods-receipt' WHERE kind = 'receipt';--> statement-breakpoint
ALTER TABLE "document" ENABLE TRIGGER USER;--> statement-breakpoint
ALTER TABLE "document" ADD CONSTRAINT "document_kind" CHECK ("document"."kind" in ('journal', 'batch', 'recurring', 'invoice', 'request', 'order', 'goods-receipt', 'recurring-invoice', 'payment', 'run'));--> statement-breakpoint
INSERT INTO number_series (code, prefix, digits) SELECT 'goods-receipt', prefix, digits FROM number_series WHERE code = 'receipt';--> statement-breakpoint
ALTER TABLE "number_counter" DISABLE TRIGGER USER;--> statement-breakpoint
UPDATE number_counter SET series = 'goods-receipt' WHERE series = 'receipt';--> statement-breakpoint
ALTER TABLE "number_counter" ENABLE TRIGGER USER;--> statement-breakpoint
DELETE FROM number_series WHERE code = 'receipt';--> statement-breakpoint
UPDATE preference SET key = replace(key, '.receipts', '.goods-receipts') WHERE key IN ('table.receipts', 'filters.receipts');
