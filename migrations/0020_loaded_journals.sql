CREATE TABLE "loaded_journal" (
	"document_id" bigint PRIMARY KEY NOT NULL,
	"load_id" integer NOT NULL,
	"key" text NOT NULL,
	"hash" text NOT NULL
);
--> statement-breakpoint
ALTER TABLE "journal_load" ADD COLUMN "source" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "loaded_journal" ADD CONSTRAINT "loaded_journal_document_id_document_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."document"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "loaded_journal" ADD CONSTRAINT "loaded_journal_load_id_journal_load_id_fk" FOREIGN KEY ("load_id") REFERENCES "public"."journal_load"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "loaded_journal_hash_index" ON "loaded_journal" USING btree ("hash");--> statement-breakpoint
CREATE INDEX "loaded_journal_load_id_index" ON "loaded_journal" USING btree ("load_id");
