ALTER TABLE "attachment" ALTER COLUMN "document_id" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "attachment" ADD COLUMN "remark_id" integer;--> statement-breakpoint
ALTER TABLE "attachment" ADD CONSTRAINT "attachment_remark_id_remark_id_fk" FOREIGN KEY ("remark_id") REFERENCES "public"."remark"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "attachment_remark_id_index" ON "attachment" USING btree ("remark_id") WHERE remark_id is not null;--> statement-breakpoint
ALTER TABLE "attachment" ADD CONSTRAINT "attachment_subject" CHECK (num_nonnulls("attachment"."document_id", "attachment"."remark_id") = 1);--> statement-breakpoint
-- Papers of what is posted stay, and so do files of what was said. Those of a draft go with it.
CREATE OR REPLACE FUNCTION keep_paper() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'UPDATE' OR OLD.remark_id IS NOT NULL
     OR EXISTS (SELECT 1 FROM document d WHERE d.id = OLD.document_id
       AND d.status NOT IN ('draft', 'waiting', 'held')) THEN
    RAISE EXCEPTION 'ledger guard: a paper stays as it was added' USING ERRCODE = 'YA001';
  END IF;
  RETURN OLD;
END $$;
