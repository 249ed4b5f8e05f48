ALTER TABLE "batch" ADD COLUMN "entered" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "journal_type" ADD COLUMN "naming" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "journal_type" ADD COLUMN "reverses" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "journal_type" ADD COLUMN "auto_reverse" boolean DEFAULT false NOT NULL;