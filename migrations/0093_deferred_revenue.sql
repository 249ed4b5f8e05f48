CREATE TABLE "deferral" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "deferral_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"company_id" integer NOT NULL,
	"document_id" bigint NOT NULL,
	"line" integer NOT NULL,
	"account" text NOT NULL,
	"coding" jsonb NOT NULL,
	"first_day" date NOT NULL,
	"last_day" date NOT NULL,
	"method" text NOT NULL,
	"amount" bigint NOT NULL,
	CONSTRAINT "deferral_method" CHECK ("deferral"."method" in ('months', 'days')),
	CONSTRAINT "deferral_days" CHECK ("deferral"."first_day" <= "deferral"."last_day")
);
--> statement-breakpoint
CREATE TABLE "deferral_release" (
	"deferral_id" bigint NOT NULL,
	"run_id" bigint NOT NULL,
	"amount" bigint NOT NULL,
	CONSTRAINT "deferral_release_deferral_id_run_id_pk" PRIMARY KEY("deferral_id","run_id")
);
--> statement-breakpoint
ALTER TABLE "run" DROP CONSTRAINT "run_kind";--> statement-breakpoint
ALTER TABLE "run_item" DROP CONSTRAINT "run_item_taken_as";--> statement-breakpoint
ALTER TABLE "run_schedule" DROP CONSTRAINT "run_schedule_kind";--> statement-breakpoint
ALTER TABLE "deferral" ADD CONSTRAINT "deferral_company_id_company_id_fk" FOREIGN KEY ("company_id") REFERENCES "public"."company"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "deferral" ADD CONSTRAINT "deferral_document_id_document_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."document"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "deferral_release" ADD CONSTRAINT "deferral_release_deferral_id_deferral_id_fk" FOREIGN KEY ("deferral_id") REFERENCES "public"."deferral"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "deferral_company_id_first_day_index" ON "deferral" USING btree ("company_id","first_day");--> statement-breakpoint
CREATE INDEX "deferral_document_id_index" ON "deferral" USING btree ("document_id");--> statement-breakpoint
CREATE INDEX "deferral_release_run_id_index" ON "deferral_release" USING btree ("run_id");--> statement-breakpoint
ALTER TABLE "run" ADD CONSTRAINT "run_kind" CHECK ("run"."kind" in ('year-end', 'reversals', 'recurring', 'payment', 'single-payment', 'recurring-invoice', 'accrual', 'bank-lines', 'transfer', 'credit-losses', 'agreement', 'deferred-revenue', 'direct-debit', 'letters', 'clean-up'));--> statement-breakpoint
ALTER TABLE "run_item" ADD CONSTRAINT "run_item_taken_as" CHECK ("run_item"."taken_as" in ('year-end', 'reversals', 'recurring', 'payment', 'single-payment', 'recurring-invoice', 'accrual', 'bank-lines', 'transfer', 'credit-losses', 'agreement', 'deferred-revenue', 'direct-debit', 'letters', 'clean-up'));--> statement-breakpoint
ALTER TABLE "run_schedule" ADD CONSTRAINT "run_schedule_kind" CHECK ("run_schedule"."kind" in ('year-end', 'reversals', 'recurring', 'payment', 'single-payment', 'recurring-invoice', 'accrual', 'bank-lines', 'transfer', 'credit-losses', 'agreement', 'deferred-revenue', 'direct-debit', 'letters', 'clean-up'));--> statement-breakpoint

-- What was deferred when an invoice was posted stays as it was.
CREATE TRIGGER deferral_fixed BEFORE UPDATE OR DELETE ON deferral FOR EACH ROW EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER deferral_whole BEFORE TRUNCATE ON deferral FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint

-- Of deferred revenue never more is released than there is, nor against its sign.
CREATE FUNCTION check_deferral() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE whole bigint; gone bigint;
BEGIN
  SELECT f.amount, coalesce((SELECT sum(x.amount) FROM deferral_release x WHERE x.deferral_id = f.id), 0)
    INTO whole, gone FROM deferral f WHERE f.id = NEW.deferral_id;
  IF abs(gone) > abs(whole) OR gone * sign(whole) < 0 THEN
    RAISE EXCEPTION 'ledger guard: of deferral % more is released than there is (% of %)', NEW.deferral_id, gone, whole USING ERRCODE = 'YA008';
  END IF;
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE CONSTRAINT TRIGGER deferral_never_beyond AFTER INSERT OR UPDATE ON deferral_release DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION check_deferral();
