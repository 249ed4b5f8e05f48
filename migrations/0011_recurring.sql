CREATE TABLE "recurring_journal" (
	"document_id" bigint PRIMARY KEY NOT NULL,
	"content" jsonb NOT NULL,
	"rhythm" jsonb NOT NULL,
	"skipped" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"version" integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
ALTER TABLE "account" ADD COLUMN "company_ids" integer[];--> statement-breakpoint
ALTER TABLE "journal_type" ADD COLUMN "books" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "journal_type" ADD COLUMN "approval" text DEFAULT 'rules' NOT NULL;--> statement-breakpoint
ALTER TABLE "run" ADD COLUMN "overrides" jsonb DEFAULT '{"dropped":[],"amounts":{}}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "recurring_journal" ADD CONSTRAINT "recurring_journal_document_id_document_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."document"("id") ON DELETE cascade ON UPDATE no action;