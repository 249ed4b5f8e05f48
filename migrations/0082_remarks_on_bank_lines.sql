ALTER TABLE "remark" ALTER COLUMN "document_id" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "remark" ADD COLUMN "statement_line_id" bigint;--> statement-breakpoint
CREATE INDEX "remark_statement_line_id_index" ON "remark" USING btree ("statement_line_id");--> statement-breakpoint
ALTER TABLE "remark" ADD CONSTRAINT "remark_subject" CHECK (num_nonnulls("remark"."document_id", "remark"."statement_line_id") = 1);--> statement-breakpoint
-- Remarks go with a draft that is deleted; those on a line of a bank's statement never.
CREATE OR REPLACE FUNCTION keep_beside_document() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE there boolean;
BEGIN
  IF TG_OP = 'UPDATE' THEN
    RAISE EXCEPTION 'ledger guard: rows of % are never changed', TG_TABLE_NAME USING ERRCODE = 'YA001';
  END IF;
  IF TG_TABLE_NAME = 'document_link' THEN
    there := EXISTS (SELECT 1 FROM document d WHERE d.id = (to_jsonb(OLD)->>'from_id')::bigint)
      AND EXISTS (SELECT 1 FROM document d WHERE d.id = (to_jsonb(OLD)->>'to_id')::bigint);
  ELSE
    there := to_jsonb(OLD)->>'document_id' IS NULL
      OR EXISTS (SELECT 1 FROM document d WHERE d.id = (to_jsonb(OLD)->>'document_id')::bigint);
  END IF;
  IF there THEN
    RAISE EXCEPTION 'ledger guard: rows of % are never deleted', TG_TABLE_NAME USING ERRCODE = 'YA001';
  END IF;
  RETURN OLD;
END $$;
