ALTER TABLE "partner" ADD COLUMN "purpose" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "payment" ADD COLUMN "purpose" text DEFAULT 'SUPP' NOT NULL;