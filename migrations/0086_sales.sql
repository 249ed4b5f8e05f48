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
--> statement-breakpoint
-- A tax on sales goes by the periods of receivables, one on purchases by those of payables.
CREATE FUNCTION tax_reported_on(company integer, day date, direction text) RETURNS date LANGUAGE sql STABLE AS $$
  SELECT coalesce((
    SELECT greatest(day, p.start_date) FROM period p JOIN fiscal_year y ON y.id = p.year_id
     WHERE y.company_id = company AND NOT p.adjustment AND p.end_date >= day
       AND NOT EXISTS (SELECT 1 FROM period_state s JOIN book b ON b.id = s.book_id AND b.main
                        WHERE s.year_id = p.year_id AND s.no = p.no AND s.state = 'closed'
                          AND s.area = CASE direction WHEN 'sale' THEN 'receivables' ELSE 'payables' END)
       AND NOT EXISTS (SELECT 1 FROM tax_declaration d
                        WHERE d.company_id = company AND d.withdrawn_at IS NULL
                          AND d.start_date <= p.end_date AND d.end_date >= p.start_date)
     ORDER BY p.start_date LIMIT 1), day)
$$;--> statement-breakpoint
CREATE OR REPLACE FUNCTION place_tax_record() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  NEW.reported_on := coalesce(NEW.reported_on, tax_reported_on(NEW.company_id, NEW.tax_date, NEW.direction));
  IF EXISTS (SELECT 1 FROM tax_declaration d
              WHERE d.company_id = NEW.company_id AND d.withdrawn_at IS NULL
                AND NEW.reported_on BETWEEN d.start_date AND d.end_date) THEN
    RAISE EXCEPTION 'tax guard: the taxes of % are declared', NEW.reported_on USING ERRCODE = 'YA007';
  END IF;
  RETURN NEW;
END $$;--> statement-breakpoint
DROP FUNCTION tax_reported_on(integer, date);
