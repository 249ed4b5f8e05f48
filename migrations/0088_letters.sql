CREATE TABLE "customer_letter" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "customer_letter_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"run_id" bigint,
	"promise_id" integer,
	"company_id" integer NOT NULL,
	"partner" text NOT NULL,
	"kind" text NOT NULL,
	"level" integer DEFAULT 0 NOT NULL,
	"date" date NOT NULL,
	"language" text NOT NULL,
	"amount" bigint NOT NULL,
	"fee" bigint DEFAULT 0 NOT NULL,
	"interest" bigint DEFAULT 0 NOT NULL,
	"sale_id" bigint,
	"sent_to" text,
	"sent_by" integer,
	"sent_at" timestamp with time zone,
	CONSTRAINT "customer_letter_kind" CHECK ("customer_letter"."kind" in ('reminder', 'statement', 'promise')),
	CONSTRAINT "customer_letter_language" CHECK ("customer_letter"."language" in ('en', 'de', 'fr', 'es')),
	CONSTRAINT "customer_letter_source" CHECK (num_nonnulls("customer_letter"."run_id", "customer_letter"."promise_id") = 1
        and ("customer_letter"."kind" = 'promise') = ("customer_letter"."promise_id" is not null)),
	CONSTRAINT "customer_letter_level" CHECK (("customer_letter"."kind" = 'reminder') = ("customer_letter"."level" > 0))
);
--> statement-breakpoint
CREATE TABLE "late_rate" (
	"from" date PRIMARY KEY NOT NULL,
	"percent" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "letter_item" (
	"letter_id" bigint NOT NULL,
	"item_id" bigint NOT NULL,
	"level" integer NOT NULL,
	"interest" bigint NOT NULL,
	"interest_to" date,
	CONSTRAINT "letter_item_letter_id_item_id_pk" PRIMARY KEY("letter_id","item_id")
);
--> statement-breakpoint
ALTER TABLE "run" DROP CONSTRAINT "run_kind";--> statement-breakpoint
ALTER TABLE "run_item" DROP CONSTRAINT "run_item_taken_as";--> statement-breakpoint
ALTER TABLE "run_schedule" DROP CONSTRAINT "run_schedule_kind";--> statement-breakpoint
ALTER TABLE "job" DROP CONSTRAINT "job_kind";--> statement-breakpoint
ALTER TABLE "customer_group" ADD COLUMN "reminders" jsonb;--> statement-breakpoint
ALTER TABLE "customer_letter" ADD CONSTRAINT "customer_letter_run_id_document_id_fk" FOREIGN KEY ("run_id") REFERENCES "public"."document"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "customer_letter" ADD CONSTRAINT "customer_letter_promise_id_promise_id_fk" FOREIGN KEY ("promise_id") REFERENCES "public"."promise"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "customer_letter" ADD CONSTRAINT "customer_letter_company_id_company_id_fk" FOREIGN KEY ("company_id") REFERENCES "public"."company"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "customer_letter" ADD CONSTRAINT "customer_letter_sale_id_document_id_fk" FOREIGN KEY ("sale_id") REFERENCES "public"."document"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "letter_item" ADD CONSTRAINT "letter_item_letter_id_customer_letter_id_fk" FOREIGN KEY ("letter_id") REFERENCES "public"."customer_letter"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "letter_item" ADD CONSTRAINT "letter_item_item_id_open_item_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."open_item"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "customer_letter_run_id_index" ON "customer_letter" USING btree ("run_id");--> statement-breakpoint
CREATE INDEX "customer_letter_company_id_partner_index" ON "customer_letter" USING btree ("company_id","partner");--> statement-breakpoint
CREATE INDEX "customer_letter_sale_id_index" ON "customer_letter" USING btree ("sale_id");--> statement-breakpoint
CREATE INDEX "letter_item_item_id_index" ON "letter_item" USING btree ("item_id");--> statement-breakpoint
ALTER TABLE "run" ADD CONSTRAINT "run_kind" CHECK ("run"."kind" in ('year-end', 'reversals', 'recurring', 'payment', 'single-payment', 'recurring-invoice', 'accrual', 'bank-lines', 'transfer', 'letters', 'clean-up'));--> statement-breakpoint
ALTER TABLE "run_item" ADD CONSTRAINT "run_item_taken_as" CHECK ("run_item"."taken_as" in ('year-end', 'reversals', 'recurring', 'payment', 'single-payment', 'recurring-invoice', 'accrual', 'bank-lines', 'transfer', 'letters', 'clean-up'));--> statement-breakpoint
ALTER TABLE "run_schedule" ADD CONSTRAINT "run_schedule_kind" CHECK ("run_schedule"."kind" in ('year-end', 'reversals', 'recurring', 'payment', 'single-payment', 'recurring-invoice', 'accrual', 'bank-lines', 'transfer', 'letters', 'clean-up'));--> statement-breakpoint
ALTER TABLE "job" ADD CONSTRAINT "job_kind" CHECK ("job"."kind" in ('compute-run', 'post-run', 'take-statements', 'match-lines', 'send-letters', 'post-certain'));
--> statement-breakpoint
-- A letter stays as it was made, but that it is sent once; one that has not gone out can be undone.
CREATE FUNCTION keep_letter() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF OLD.sent_at IS NOT NULL OR (TG_OP = 'UPDATE'
     AND (to_jsonb(NEW) - 'sale_id' - 'sent_to' - 'sent_by' - 'sent_at')
      <> (to_jsonb(OLD) - 'sale_id' - 'sent_to' - 'sent_by' - 'sent_at')) THEN
    RAISE EXCEPTION 'ledger guard: a letter stays as it was made' USING ERRCODE = 'YA001';
  END IF;
  IF TG_OP = 'DELETE' THEN RETURN OLD; END IF;
  RETURN NEW;
END $$;--> statement-breakpoint
CREATE TRIGGER customer_letter_fixed BEFORE UPDATE OR DELETE ON customer_letter FOR EACH ROW EXECUTE FUNCTION keep_letter();--> statement-breakpoint
CREATE FUNCTION keep_letter_item() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'UPDATE' OR EXISTS (SELECT 1 FROM customer_letter c WHERE c.id = OLD.letter_id AND c.sent_at IS NOT NULL) THEN
    RAISE EXCEPTION 'ledger guard: a letter stays as it was made' USING ERRCODE = 'YA001';
  END IF;
  RETURN OLD;
END $$;--> statement-breakpoint
CREATE TRIGGER letter_item_fixed BEFORE UPDATE OR DELETE ON letter_item FOR EACH ROW EXECUTE FUNCTION keep_letter_item();
