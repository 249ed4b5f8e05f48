ALTER TABLE "journal_line" DROP CONSTRAINT "journal_line_journal_id_journal_id_fk";
--> statement-breakpoint
ALTER TABLE "journal_line" DROP CONSTRAINT "journal_line_account_id_account_id_fk";
--> statement-breakpoint
ALTER TABLE "journal_line" DROP CONSTRAINT "journal_line_coding_id_coding_id_fk";
