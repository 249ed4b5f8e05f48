CREATE TABLE "bank_paper" (
	"bank_account_id" integer NOT NULL,
	"kind" text NOT NULL,
	"layout" jsonb NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "bank_paper_bank_account_id_kind_pk" PRIMARY KEY("bank_account_id","kind"),
	CONSTRAINT "bank_paper_kind" CHECK ("bank_paper"."kind" in ('cheque', 'bill', 'note'))
);
--> statement-breakpoint
DROP INDEX "cheque_number";--> statement-breakpoint
ALTER TABLE "cheque" ADD COLUMN "reused" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "bank_paper" ADD CONSTRAINT "bank_paper_bank_account_id_bank_account_id_fk" FOREIGN KEY ("bank_account_id") REFERENCES "public"."bank_account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "cheque_number" ON "cheque" USING btree ("bank_account_id","number") WHERE not reused;--> statement-breakpoint
ALTER TABLE "cheque" ADD CONSTRAINT "cheque_reused" CHECK (not "cheque"."reused" or "cheque"."state" = 'voided');--> statement-breakpoint
-- As before, but that the number of a spoilt form can be given again, which is noted once.
CREATE OR REPLACE FUNCTION keep_cheque() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'DELETE'
     OR (to_jsonb(NEW) - 'state' - 'reason' - 'prints' - 'payment_id' - 'decided_by' - 'decided_at' - 'reused')
        <> (to_jsonb(OLD) - 'state' - 'reason' - 'prints' - 'payment_id' - 'decided_by' - 'decided_at' - 'reused')
     OR (OLD.payment_id IS NOT NULL AND NEW.payment_id IS DISTINCT FROM OLD.payment_id)
     OR NEW.prints < OLD.prints
     OR (OLD.reused AND NOT NEW.reused)
     OR (OLD.state IN ('voided', 'cancelled', 'missing') AND NEW.state <> OLD.state) THEN
    RAISE EXCEPTION 'ledger guard: cheque % stays as it was printed', OLD.number USING ERRCODE = 'YA001';
  END IF;
  RETURN NEW;
END $$;
