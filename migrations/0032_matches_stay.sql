ALTER TABLE "invoice_match" ADD COLUMN "journal_id" bigint;--> statement-breakpoint
UPDATE "invoice_match" m SET "journal_id" = i."journal_id" FROM "invoice" i WHERE i."document_id" = m."invoice_id";--> statement-breakpoint
ALTER TABLE "invoice_match" ALTER COLUMN "journal_id" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "invoice_match" DROP CONSTRAINT "invoice_match_invoice_id_line_pk";--> statement-breakpoint
ALTER TABLE "invoice_match" ADD CONSTRAINT "invoice_match_invoice_id_line_journal_id_pk" PRIMARY KEY("invoice_id","line","journal_id");--> statement-breakpoint
-- What was billed stays: it is taken back by a row of its own.
CREATE TRIGGER invoice_match_fixed BEFORE UPDATE OR DELETE ON "invoice_match" FOR EACH ROW EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER invoice_match_kept BEFORE TRUNCATE ON "invoice_match" FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();
