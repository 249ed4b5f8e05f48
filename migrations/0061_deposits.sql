CREATE TABLE "deposit" (
	"document_id" bigint PRIMARY KEY NOT NULL,
	"bank_account_id" integer NOT NULL,
	"reason" text DEFAULT '' NOT NULL
);
--> statement-breakpoint
CREATE TABLE "deposit_part" (
	"document_id" bigint NOT NULL,
	"no" integer NOT NULL,
	"kind" text NOT NULL,
	"partner" text NOT NULL,
	"payer" text NOT NULL,
	"cheque" text DEFAULT '' NOT NULL,
	"amount" bigint NOT NULL,
	"journal_id" bigint NOT NULL,
	"state" text DEFAULT 'deposited' NOT NULL,
	"reason" text DEFAULT '' NOT NULL,
	"return_journal_id" bigint,
	CONSTRAINT "deposit_part_document_id_no_pk" PRIMARY KEY("document_id","no"),
	CONSTRAINT "deposit_part_kind" CHECK ("deposit_part"."kind" in ('cheque', 'cash')),
	CONSTRAINT "deposit_part_state" CHECK ("deposit_part"."state" in ('deposited', 'returned', 'cancelled')),
	CONSTRAINT "deposit_part_amount" CHECK ("deposit_part"."amount" > 0)
);
--> statement-breakpoint
ALTER TABLE "document" DROP CONSTRAINT "document_kind";--> statement-breakpoint
ALTER TABLE "deposit" ADD CONSTRAINT "deposit_document_id_document_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."document"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "deposit" ADD CONSTRAINT "deposit_bank_account_id_bank_account_id_fk" FOREIGN KEY ("bank_account_id") REFERENCES "public"."bank_account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "deposit_part" ADD CONSTRAINT "deposit_part_document_id_deposit_document_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."deposit"("document_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "deposit_part_return_journal_id_index" ON "deposit_part" USING btree ("return_journal_id");--> statement-breakpoint
CREATE INDEX "deposit_part_journal_id_index" ON "deposit_part" USING btree ("journal_id");--> statement-breakpoint
ALTER TABLE "document" ADD CONSTRAINT "document_kind" CHECK ("document"."kind" in ('journal', 'batch', 'recurring', 'invoice', 'request', 'order', 'goods-receipt', 'recurring-invoice', 'payment', 'deposit', 'run'));--> statement-breakpoint
INSERT INTO number_series (code, prefix, digits) SELECT 'deposit', 'D', 5
  WHERE EXISTS (SELECT 1 FROM number_series WHERE code = 'payment')
  AND NOT EXISTS (SELECT 1 FROM number_series WHERE code = 'deposit');--> statement-breakpoint
-- A part of a slip stays as it was deposited; it is noted once that it came back or was taken back.
CREATE FUNCTION keep_deposit_part() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'DELETE' OR OLD.state <> 'deposited'
     OR (to_jsonb(NEW) - 'state' - 'reason' - 'return_journal_id')
        <> (to_jsonb(OLD) - 'state' - 'reason' - 'return_journal_id') THEN
    RAISE EXCEPTION 'ledger guard: a part of a deposit stays as it was' USING ERRCODE = 'YA001';
  END IF;
  RETURN NEW;
END $$;--> statement-breakpoint
CREATE TRIGGER deposit_part_fixed BEFORE UPDATE OR DELETE ON deposit_part FOR EACH ROW EXECUTE FUNCTION keep_deposit_part();--> statement-breakpoint
CREATE TRIGGER deposit_part_whole BEFORE TRUNCATE ON deposit_part FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();
