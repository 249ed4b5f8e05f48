ALTER TABLE "bank_account" ADD COLUMN "statement_format" text DEFAULT 'any' NOT NULL;--> statement-breakpoint
ALTER TABLE "bank_account" ADD COLUMN "from_folder" boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE "bank_account" ADD COLUMN "matches_at_once" boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE "bank_account" ADD CONSTRAINT "bank_account_format" CHECK ("bank_account"."statement_format" in ('any', 'camt', 'mt940', 'table'));