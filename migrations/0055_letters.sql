CREATE TABLE "letter_layout" (
	"company_id" integer PRIMARY KEY NOT NULL,
	"layout" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "language" text DEFAULT 'en' NOT NULL;--> statement-breakpoint
ALTER TABLE "letter_layout" ADD CONSTRAINT "letter_layout_company_id_company_id_fk" FOREIGN KEY ("company_id") REFERENCES "public"."company"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "partner" ADD CONSTRAINT "partner_language" CHECK ("partner"."language" in ('en', 'de', 'fr', 'es'));