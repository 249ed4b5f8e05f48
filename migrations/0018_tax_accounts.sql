ALTER TABLE "tax_record" ADD COLUMN "account" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "tax_record" ADD COLUMN "owed_account" text DEFAULT '' NOT NULL;--> statement-breakpoint
UPDATE "tax_record" r SET "account" = CASE WHEN c."kind" = 'withheld' THEN '' ELSE c."account" END, "owed_account" = CASE WHEN c."kind" IN ('reverse', 'withheld') THEN c."owed_account" ELSE '' END FROM "tax_code" c WHERE c."code" = r."tax_code";--> statement-breakpoint
-- What undoing a payment took back belongs to the journal that undid it.
UPDATE "tax_record" r SET "journal_id" = v."id", "seq" = v."seq" FROM "journal" v, "document" d WHERE d."id" = r."document_id" AND d."kind" = 'payment' AND v."reverses_id" = r."journal_id" AND EXISTS (SELECT 1 FROM "tax_record" o WHERE o."document_id" = r."document_id" AND o."journal_id" = r."journal_id" AND o."tax_code" = r."tax_code" AND o."id" < r."id" AND o."base" = -r."base");
