CREATE TABLE "write_off" (
	"journal_id" bigint PRIMARY KEY NOT NULL,
	"company_id" integer NOT NULL,
	"partner" text NOT NULL,
	"date" date NOT NULL,
	"reason" text NOT NULL,
	"currency" char(3) NOT NULL,
	"amount" bigint NOT NULL,
	"functional" bigint NOT NULL,
	"tax_corrected" boolean NOT NULL,
	"made_by" integer NOT NULL,
	"made_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "run" DROP CONSTRAINT "run_kind";--> statement-breakpoint
ALTER TABLE "run_item" DROP CONSTRAINT "run_item_taken_as";--> statement-breakpoint
ALTER TABLE "run_schedule" DROP CONSTRAINT "run_schedule_kind";--> statement-breakpoint
ALTER TABLE "write_off" ADD CONSTRAINT "write_off_journal_id_journal_id_fk" FOREIGN KEY ("journal_id") REFERENCES "public"."journal"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "write_off" ADD CONSTRAINT "write_off_company_id_company_id_fk" FOREIGN KEY ("company_id") REFERENCES "public"."company"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "write_off_company_id_date_index" ON "write_off" USING btree ("company_id","date");--> statement-breakpoint
ALTER TABLE "run" ADD CONSTRAINT "run_kind" CHECK ("run"."kind" in ('year-end', 'reversals', 'recurring', 'payment', 'single-payment', 'recurring-invoice', 'accrual', 'bank-lines', 'transfer', 'credit-losses', 'letters', 'clean-up'));--> statement-breakpoint
ALTER TABLE "run_item" ADD CONSTRAINT "run_item_taken_as" CHECK ("run_item"."taken_as" in ('year-end', 'reversals', 'recurring', 'payment', 'single-payment', 'recurring-invoice', 'accrual', 'bank-lines', 'transfer', 'credit-losses', 'letters', 'clean-up'));--> statement-breakpoint
ALTER TABLE "run_schedule" ADD CONSTRAINT "run_schedule_kind" CHECK ("run_schedule"."kind" in ('year-end', 'reversals', 'recurring', 'payment', 'single-payment', 'recurring-invoice', 'accrual', 'bank-lines', 'transfer', 'credit-losses', 'letters', 'clean-up'));--> statement-breakpoint
CREATE TRIGGER write_off_fixed BEFORE UPDATE OR DELETE ON write_off FOR EACH ROW EXECUTE FUNCTION refuse_change();--> statement-breakpoint
-- Books that have such accounts use them; others say which ones.
INSERT INTO setting (key, value)
  SELECT x.key, to_jsonb(x.number) FROM (VALUES ('account.badDebts', '7460'), ('account.lossAllowance', '1319')) AS x(key, number)
  WHERE EXISTS (SELECT 1 FROM account a WHERE a.number = x.number AND a.control IS NULL)
  ON CONFLICT DO NOTHING;
