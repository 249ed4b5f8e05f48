ALTER TABLE "movement_kind" ADD COLUMN "tax_code" text DEFAULT '' NOT NULL;--> statement-breakpoint
CREATE INDEX "tax_record_journal_id_index" ON "tax_record" USING btree ("journal_id");