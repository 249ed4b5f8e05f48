CREATE TABLE "reconciliation_draft" (
	"document_id" bigint PRIMARY KEY NOT NULL,
	"bank_account_id" integer NOT NULL,
	"date" date NOT NULL,
	CONSTRAINT "reconciliation_draft_bankAccountId_date_unique" UNIQUE("bank_account_id","date")
);
--> statement-breakpoint
ALTER TABLE "document" DROP CONSTRAINT "document_kind";--> statement-breakpoint
ALTER TABLE "reconciliation" ADD COLUMN "document_id" bigint;--> statement-breakpoint
ALTER TABLE "reconciliation_draft" ADD CONSTRAINT "reconciliation_draft_document_id_document_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."document"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "reconciliation_draft" ADD CONSTRAINT "reconciliation_draft_bank_account_id_bank_account_id_fk" FOREIGN KEY ("bank_account_id") REFERENCES "public"."bank_account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "reconciliation" ADD CONSTRAINT "reconciliation_document_id_document_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."document"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "reconciliation" ADD CONSTRAINT "reconciliation_documentId_unique" UNIQUE("document_id");--> statement-breakpoint
ALTER TABLE "document" ADD CONSTRAINT "document_kind" CHECK ("document"."kind" in ('journal', 'batch', 'recurring', 'invoice', 'request', 'order', 'goods-receipt', 'recurring-invoice', 'payment', 'deposit', 'reconciliation', 'run'));--> statement-breakpoint
-- Those that were closed before come into the register, each with a document of its own.
ALTER TABLE reconciliation DISABLE TRIGGER reconciliation_fixed;--> statement-breakpoint
DO $$
DECLARE
  r record;
  made bigint;
BEGIN
  FOR r IN SELECT x.*, b.code, b.currency, row_number() OVER (PARTITION BY x.bank_account_id, x.date ORDER BY x.id) AS turn
      FROM reconciliation x JOIN bank_account b ON b.id = x.bank_account_id ORDER BY x.id LOOP
    INSERT INTO document (kind, number, company_id, date, currency, status, title, search, created_by, created_at)
    VALUES ('reconciliation',
      r.code || ' ' || r.date || CASE WHEN r.turn > 1 THEN ' (' || r.turn || ')' ELSE '' END,
      r.company_id, r.date, r.currency, CASE WHEN r.reopened_at IS NULL THEN 'closed' ELSE 'cancelled' END,
      'Bank reconciliation ' || r.code || ', ' || to_char(r.date, 'FMDD Mon YYYY'),
      lower(r.code || ' ' || r.date || ' bank reconciliation ' || r.code), r.closed_by, r.closed_at)
    RETURNING id INTO made;
    UPDATE reconciliation SET document_id = made WHERE id = r.id;
  END LOOP;
END $$;--> statement-breakpoint
ALTER TABLE reconciliation ENABLE TRIGGER reconciliation_fixed;--> statement-breakpoint
ALTER TABLE "reconciliation" ALTER COLUMN "document_id" SET NOT NULL;
