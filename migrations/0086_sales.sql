CREATE TABLE "customer_group" (
	"code" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"version" integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
CREATE TABLE "partner_contact" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "partner_contact_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"partner_id" integer NOT NULL,
	"name" text NOT NULL,
	"role" text DEFAULT '' NOT NULL,
	"telephone" text DEFAULT '' NOT NULL,
	"email" text DEFAULT '' NOT NULL,
	"language" text DEFAULT 'en' NOT NULL,
	CONSTRAINT "partner_contact_language" CHECK ("partner_contact"."language" in ('en', 'de', 'fr', 'es'))
);
--> statement-breakpoint
CREATE TABLE "sale" (
	"document_id" bigint PRIMARY KEY NOT NULL,
	"partner_id" integer,
	"content" jsonb NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"updated_by" integer NOT NULL,
	"updated_at" timestamp with time zone NOT NULL,
	"journal_id" bigint,
	"figures" jsonb,
	"sent_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "document" DROP CONSTRAINT "document_kind";--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "credit_limit" bigint;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "credit_currency" char(3) DEFAULT 'EUR' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "grade" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "collector" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "stand_in" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "customer_group" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "head_office" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "blocks" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "block_reason" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "tax_code" ADD COLUMN "category" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "tax_code" ADD COLUMN "reason" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner_contact" ADD CONSTRAINT "partner_contact_partner_id_partner_id_fk" FOREIGN KEY ("partner_id") REFERENCES "public"."partner"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sale" ADD CONSTRAINT "sale_document_id_document_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."document"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sale" ADD CONSTRAINT "sale_partner_id_partner_id_fk" FOREIGN KEY ("partner_id") REFERENCES "public"."partner"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "partner_contact_partner_id_index" ON "partner_contact" USING btree ("partner_id");--> statement-breakpoint
CREATE INDEX "sale_partner_id_index" ON "sale" USING btree ("partner_id");--> statement-breakpoint
ALTER TABLE "document" ADD CONSTRAINT "document_kind" CHECK ("document"."kind" in ('journal', 'batch', 'recurring', 'invoice', 'request', 'order', 'goods-receipt', 'recurring-invoice', 'payment', 'sale', 'receipt', 'deposit', 'reconciliation', 'run'));--> statement-breakpoint
ALTER TABLE "tax_code" ADD CONSTRAINT "tax_code_category" CHECK ("tax_code"."category" in ('', 'S', 'Z', 'E', 'AE', 'K', 'G', 'O'));--> statement-breakpoint
INSERT INTO number_series (code, prefix, digits)
  SELECT 'sale', CASE WHEN EXISTS (SELECT 1 FROM number_series WHERE prefix = 'S') THEN 'SI' ELSE 'S' END, 5
  WHERE EXISTS (SELECT 1 FROM number_series WHERE code = 'payment')
  AND NOT EXISTS (SELECT 1 FROM number_series WHERE code = 'sale');--> statement-breakpoint
-- Who writes an invoice may not decide on it; what it said when it was posted stays.
CREATE TRIGGER sale_written AFTER INSERT ON sale FOR EACH ROW EXECUTE FUNCTION note_writer();--> statement-breakpoint
CREATE TRIGGER sale_rewritten AFTER UPDATE ON sale FOR EACH ROW
  WHEN (OLD.content IS DISTINCT FROM NEW.content) EXECUTE FUNCTION note_writer();--> statement-breakpoint
CREATE FUNCTION keep_sale() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF OLD.figures IS NOT NULL AND (TG_OP = 'DELETE'
      OR (NEW.content, NEW.figures, NEW.journal_id, NEW.partner_id)
         IS DISTINCT FROM (OLD.content, OLD.figures, OLD.journal_id, OLD.partner_id)) THEN
    RAISE EXCEPTION 'ledger guard: an invoice stays as it was posted' USING ERRCODE = 'YA001';
  END IF;
  RETURN CASE WHEN TG_OP = 'DELETE' THEN OLD ELSE NEW END;
END $$;--> statement-breakpoint
CREATE TRIGGER sale_fixed BEFORE UPDATE OR DELETE ON sale FOR EACH ROW EXECUTE FUNCTION keep_sale();--> statement-breakpoint
CREATE TRIGGER sale_whole BEFORE TRUNCATE ON sale FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
-- What was posted is not drafted again.
CREATE OR REPLACE FUNCTION check_document() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF OLD.number IS NOT NULL AND (TG_OP = 'DELETE' OR NEW.number IS DISTINCT FROM OLD.number OR NEW.kind <> OLD.kind) THEN
    RAISE EXCEPTION 'ledger guard: document % has its number and keeps it', OLD.number USING ERRCODE = 'YA001';
  END IF;
  IF TG_OP = 'UPDATE' AND OLD.number IS NOT NULL
     AND OLD.kind IN ('journal', 'invoice', 'sale', 'payment', 'receipt', 'goods-receipt')
     AND NEW.status <> OLD.status AND NEW.status IN ('draft', 'waiting', 'held') THEN
    RAISE EXCEPTION 'ledger guard: document % is posted and no draft again', OLD.number USING ERRCODE = 'YA001';
  END IF;
  RETURN CASE WHEN TG_OP = 'DELETE' THEN OLD ELSE NEW END;
END $$;
