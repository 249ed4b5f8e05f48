INSERT INTO "recurring_document" ("document_id", "content", "rhythm", "skipped", "version", "updated_by", "updated_at")
  SELECT r."document_id", r."content", r."rhythm", r."skipped", r."version", d."created_by", d."created_at"
  FROM "recurring_journal" r JOIN "document" d ON d."id" = r."document_id";
--> statement-breakpoint
INSERT INTO "recurring_document" ("document_id", "content", "rhythm", "skipped", "version", "updated_by", "updated_at")
  SELECT "document_id", "content" - 'rhythm' - 'name', "content"->'rhythm', "skipped", "version", "updated_by", "updated_at"
  FROM "recurring_invoice";
--> statement-breakpoint
DROP TABLE "recurring_journal" CASCADE;--> statement-breakpoint
DROP TABLE "recurring_invoice" CASCADE;