CREATE TABLE "document_writer" (
	"document_id" bigint NOT NULL,
	"person_id" integer NOT NULL,
	CONSTRAINT "document_writer_document_id_person_id_pk" PRIMARY KEY("document_id","person_id")
);
--> statement-breakpoint
ALTER TABLE "document_writer" ADD CONSTRAINT "document_writer_document_id_document_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."document"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
INSERT INTO "document_writer" (document_id, person_id)
  SELECT document_id, updated_by FROM journal_draft UNION SELECT document_id, updated_by FROM invoice
  UNION SELECT document_id, updated_by FROM purchase_order
  UNION SELECT d.id, d.created_by FROM document d WHERE d.id IN (SELECT document_id FROM journal_draft
    UNION SELECT document_id FROM invoice UNION SELECT document_id FROM purchase_order UNION SELECT id FROM run);--> statement-breakpoint
-- Whoever changes what a document says has written on it, by whatever way.
CREATE FUNCTION note_writer() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO document_writer (document_id, person_id) VALUES (NEW.document_id, NEW.updated_by)
    ON CONFLICT DO NOTHING;
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE TRIGGER journal_draft_written AFTER INSERT ON journal_draft FOR EACH ROW EXECUTE FUNCTION note_writer();--> statement-breakpoint
CREATE TRIGGER journal_draft_rewritten AFTER UPDATE ON journal_draft FOR EACH ROW
  WHEN (OLD.content IS DISTINCT FROM NEW.content) EXECUTE FUNCTION note_writer();--> statement-breakpoint
CREATE TRIGGER invoice_written AFTER INSERT ON invoice FOR EACH ROW EXECUTE FUNCTION note_writer();--> statement-breakpoint
CREATE TRIGGER invoice_rewritten AFTER UPDATE ON invoice FOR EACH ROW
  WHEN (OLD.content IS DISTINCT FROM NEW.content) EXECUTE FUNCTION note_writer();--> statement-breakpoint
CREATE TRIGGER purchase_order_written AFTER INSERT ON purchase_order FOR EACH ROW EXECUTE FUNCTION note_writer();--> statement-breakpoint
CREATE TRIGGER purchase_order_rewritten AFTER UPDATE ON purchase_order FOR EACH ROW
  WHEN (OLD.content IS DISTINCT FROM NEW.content) EXECUTE FUNCTION note_writer();
