CREATE TABLE "recurring_document" (
	"document_id" bigint PRIMARY KEY NOT NULL,
	"content" jsonb NOT NULL,
	"rhythm" jsonb NOT NULL,
	"skipped" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"updated_by" integer NOT NULL,
	"updated_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "recurring_document" ADD CONSTRAINT "recurring_document_document_id_document_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."document"("id") ON DELETE cascade ON UPDATE no action;