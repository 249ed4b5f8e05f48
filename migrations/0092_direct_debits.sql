CREATE TABLE "direct_debit" (
	"receipt_id" bigint PRIMARY KEY NOT NULL,
	"mandate_id" integer NOT NULL,
	"run_id" bigint NOT NULL,
	"sequence" text NOT NULL,
	"file_id" bigint,
	"reason" text DEFAULT '' NOT NULL,
	CONSTRAINT "direct_debit_sequence" CHECK ("direct_debit"."sequence" in ('FRST', 'RCUR', 'OOFF'))
);
--> statement-breakpoint
CREATE TABLE "mandate" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "mandate_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"company_id" integer NOT NULL,
	"partner_id" integer NOT NULL,
	"reference" text NOT NULL,
	"signed" date NOT NULL,
	"scheme" text NOT NULL,
	"kind" text NOT NULL,
	"iban" text NOT NULL,
	"bic" text DEFAULT '' NOT NULL,
	"holder" text DEFAULT '' NOT NULL,
	"notice" integer NOT NULL,
	"ended" date,
	"ended_why" text DEFAULT '' NOT NULL,
	CONSTRAINT "mandate_scheme" CHECK ("mandate"."scheme" in ('core', 'b2b')),
	CONSTRAINT "mandate_kind" CHECK ("mandate"."kind" in ('recurrent', 'one-off'))
);
--> statement-breakpoint
ALTER TABLE "run" DROP CONSTRAINT "run_kind";--> statement-breakpoint
ALTER TABLE "run_item" DROP CONSTRAINT "run_item_taken_as";--> statement-breakpoint
ALTER TABLE "run_schedule" DROP CONSTRAINT "run_schedule_kind";--> statement-breakpoint
ALTER TABLE "customer_letter" DROP CONSTRAINT "customer_letter_kind";--> statement-breakpoint
ALTER TABLE "company" ADD COLUMN "creditor_id" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "direct_debit" ADD CONSTRAINT "direct_debit_receipt_id_receipt_document_id_fk" FOREIGN KEY ("receipt_id") REFERENCES "public"."receipt"("document_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "direct_debit" ADD CONSTRAINT "direct_debit_mandate_id_mandate_id_fk" FOREIGN KEY ("mandate_id") REFERENCES "public"."mandate"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "mandate" ADD CONSTRAINT "mandate_company_id_company_id_fk" FOREIGN KEY ("company_id") REFERENCES "public"."company"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "mandate" ADD CONSTRAINT "mandate_partner_id_partner_id_fk" FOREIGN KEY ("partner_id") REFERENCES "public"."partner"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "direct_debit_run_id_index" ON "direct_debit" USING btree ("run_id");--> statement-breakpoint
CREATE INDEX "direct_debit_mandate_id_index" ON "direct_debit" USING btree ("mandate_id");--> statement-breakpoint
CREATE INDEX "direct_debit_file_id_index" ON "direct_debit" USING btree ("file_id");--> statement-breakpoint
CREATE UNIQUE INDEX "mandate_reference" ON "mandate" USING btree ("company_id","reference");--> statement-breakpoint
CREATE UNIQUE INDEX "mandate_live" ON "mandate" USING btree ("company_id","partner_id") WHERE ended is null;--> statement-breakpoint
ALTER TABLE "run" ADD CONSTRAINT "run_kind" CHECK ("run"."kind" in ('year-end', 'reversals', 'recurring', 'payment', 'single-payment', 'recurring-invoice', 'accrual', 'bank-lines', 'transfer', 'credit-losses', 'agreement', 'direct-debit', 'letters', 'clean-up'));--> statement-breakpoint
ALTER TABLE "run_item" ADD CONSTRAINT "run_item_taken_as" CHECK ("run_item"."taken_as" in ('year-end', 'reversals', 'recurring', 'payment', 'single-payment', 'recurring-invoice', 'accrual', 'bank-lines', 'transfer', 'credit-losses', 'agreement', 'direct-debit', 'letters', 'clean-up'));--> statement-breakpoint
ALTER TABLE "run_schedule" ADD CONSTRAINT "run_schedule_kind" CHECK ("run_schedule"."kind" in ('year-end', 'reversals', 'recurring', 'payment', 'single-payment', 'recurring-invoice', 'accrual', 'bank-lines', 'transfer', 'credit-losses', 'agreement', 'direct-debit', 'letters', 'clean-up'));--> statement-breakpoint
ALTER TABLE "customer_letter" ADD CONSTRAINT "customer_letter_kind" CHECK ("customer_letter"."kind" in ('reminder', 'statement', 'promise', 'debit'));--> statement-breakpoint

-- A direct debit is as it was posted; it is noted once with which file it went, and why it was
-- undone.
CREATE FUNCTION keep_direct_debit() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'DELETE'
     OR (to_jsonb(NEW) - 'file_id' - 'reason') <> (to_jsonb(OLD) - 'file_id' - 'reason')
     OR (OLD.file_id IS NOT NULL AND NEW.file_id IS DISTINCT FROM OLD.file_id)
     OR (OLD.reason <> '' AND NEW.reason <> OLD.reason) THEN
    RAISE EXCEPTION 'ledger guard: a direct debit stays as it was posted' USING ERRCODE = 'YA001';
  END IF;
  RETURN NEW;
END $$;--> statement-breakpoint
CREATE TRIGGER direct_debit_fixed BEFORE UPDATE OR DELETE ON direct_debit FOR EACH ROW EXECUTE FUNCTION keep_direct_debit();--> statement-breakpoint
CREATE TRIGGER direct_debit_whole BEFORE TRUNCATE ON direct_debit FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint

-- A mandate is what the customer has signed: once it was used only its end is noted, and once.
CREATE FUNCTION keep_mandate() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'DELETE' OR NEW.id <> OLD.id OR (OLD.ended IS NOT NULL AND to_jsonb(NEW) <> to_jsonb(OLD))
     OR ((to_jsonb(NEW) - 'ended' - 'ended_why') <> (to_jsonb(OLD) - 'ended' - 'ended_why')
       AND EXISTS (SELECT 1 FROM direct_debit x WHERE x.mandate_id = OLD.id)) THEN
    RAISE EXCEPTION 'ledger guard: a mandate stays as it was signed' USING ERRCODE = 'YA001';
  END IF;
  RETURN NEW;
END $$;--> statement-breakpoint
CREATE TRIGGER mandate_fixed BEFORE UPDATE OR DELETE ON mandate FOR EACH ROW EXECUTE FUNCTION keep_mandate();
