ALTER TABLE "document" ADD COLUMN "partner_id" integer;--> statement-breakpoint
ALTER TABLE "document" ADD COLUMN "due" date;--> statement-breakpoint
ALTER TABLE "batch" ADD COLUMN "content" jsonb;--> statement-breakpoint
ALTER TABLE "batch" ADD COLUMN "updated_by" integer;--> statement-breakpoint
ALTER TABLE "batch" ADD COLUMN "updated_at" timestamp with time zone;--> statement-breakpoint
-- What is said of a batch is kept as it is written, as with every kept document.
UPDATE batch b SET updated_by = d.created_by, updated_at = d.created_at,
  content = jsonb_build_object('company', c.code, 'name', d.title, 'period', b.period, 'description', b.description,
    'controls', (SELECT coalesce(jsonb_agg(jsonb_build_object('currency', x->>'currency',
        'amount', (round((x->>'amount')::numeric / power(10::numeric, e.digits), e.digits))::text)), '[]'::jsonb)
      FROM jsonb_array_elements(b.controls) x, LATERAL (SELECT CASE
        WHEN x->>'currency' IN ('BIF', 'CLP', 'DJF', 'GNF', 'ISK', 'JPY', 'KMF', 'KRW', 'PYG', 'RWF', 'UGX', 'VND', 'VUV', 'XAF', 'XOF', 'XPF') THEN 0
        WHEN x->>'currency' IN ('BHD', 'IQD', 'JOD', 'KWD', 'LYD', 'OMR', 'TND') THEN 3 ELSE 2 END AS digits) e))
  FROM document d JOIN company c ON c.id = d.company_id WHERE d.id = b.document_id;--> statement-breakpoint
ALTER TABLE "batch" ALTER COLUMN "content" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "batch" ALTER COLUMN "updated_by" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "batch" ALTER COLUMN "updated_at" SET NOT NULL;--> statement-breakpoint
CREATE TRIGGER batch_written AFTER INSERT ON batch FOR EACH ROW EXECUTE FUNCTION note_writer();--> statement-breakpoint
CREATE TRIGGER batch_rewritten AFTER UPDATE ON batch FOR EACH ROW
  WHEN (OLD.content IS DISTINCT FROM NEW.content) EXECUTE FUNCTION note_writer();--> statement-breakpoint
INSERT INTO document_writer (document_id, person_id) SELECT document_id, updated_by FROM batch ON CONFLICT DO NOTHING;--> statement-breakpoint
ALTER TABLE "document" ADD CONSTRAINT "document_partner_id_partner_id_fk" FOREIGN KEY ("partner_id") REFERENCES "public"."partner"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "document_partner_id_date_index" ON "document" USING btree ("partner_id","date") WHERE partner_id is not null;--> statement-breakpoint
-- The register says whom a document is with, and when it is due.
UPDATE document d SET partner_id = i.partner_id, due = (SELECT max(o.due_date) FROM open_item o WHERE o.journal_id = i.journal_id AND o.document_id = d.id)
  FROM invoice i WHERE i.document_id = d.id;--> statement-breakpoint
UPDATE document d SET partner_id = o.partner_id, due = (SELECT min((l.deliveries->0->>'date')::date) FROM order_line l WHERE l.order_id = d.id)
  FROM purchase_order o WHERE o.document_id = d.id;--> statement-breakpoint
UPDATE document d SET partner_id = p.id FROM payment y JOIN partner p ON p.code = y.partner WHERE y.document_id = d.id;--> statement-breakpoint
UPDATE document d SET partner_id = o.partner_id FROM document_link l JOIN purchase_order o ON o.document_id = l.from_id
  WHERE l.to_id = d.id AND l.kind = 'received' AND d.kind = 'receipt';
