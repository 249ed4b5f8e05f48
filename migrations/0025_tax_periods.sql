CREATE TABLE "tax_declaration" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "tax_declaration_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"company_id" integer NOT NULL,
	"start_date" date NOT NULL,
	"end_date" date NOT NULL,
	"reference" text DEFAULT '' NOT NULL,
	"figures" jsonb NOT NULL,
	"declared_by" integer NOT NULL,
	"declared_at" timestamp with time zone NOT NULL,
	"withdrawn_by" integer,
	"withdrawn_at" timestamp with time zone,
	"reason" text DEFAULT '' NOT NULL
);
--> statement-breakpoint
DROP INDEX "tax_record_company_id_tax_date_index";--> statement-breakpoint
ALTER TABLE "tax_record" ADD COLUMN "reported_on" date;--> statement-breakpoint
UPDATE tax_record SET reported_on = tax_date;--> statement-breakpoint
ALTER TABLE "tax_record" ALTER COLUMN "reported_on" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "tax_declaration" ADD CONSTRAINT "tax_declaration_company_id_company_id_fk" FOREIGN KEY ("company_id") REFERENCES "public"."company"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "tax_declaration_company_id_start_date_index" ON "tax_declaration" USING btree ("company_id","start_date");--> statement-breakpoint
CREATE INDEX "tax_record_company_id_reported_on_index" ON "tax_record" USING btree ("company_id","reported_on");--> statement-breakpoint
-- The day on which a tax of a day is reported: that day, or the first day of the first period after
-- it that is neither closed for payables in the main book nor declared.
CREATE FUNCTION tax_reported_on(company integer, day date) RETURNS date LANGUAGE sql STABLE AS $$
  SELECT coalesce((
    SELECT greatest(day, p.start_date) FROM period p JOIN fiscal_year y ON y.id = p.year_id
     WHERE y.company_id = company AND NOT p.adjustment AND p.end_date >= day
       AND NOT EXISTS (SELECT 1 FROM period_state s JOIN book b ON b.id = s.book_id AND b.main
                        WHERE s.year_id = p.year_id AND s.no = p.no AND s.area = 'payables' AND s.state = 'closed')
       AND NOT EXISTS (SELECT 1 FROM tax_declaration d
                        WHERE d.company_id = company AND d.withdrawn_at IS NULL
                          AND d.start_date <= p.end_date AND d.end_date >= p.start_date)
     ORDER BY p.start_date LIMIT 1), day)
$$;--> statement-breakpoint
CREATE FUNCTION place_tax_record() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  NEW.reported_on := coalesce(NEW.reported_on, tax_reported_on(NEW.company_id, NEW.tax_date));
  IF EXISTS (SELECT 1 FROM tax_declaration d
              WHERE d.company_id = NEW.company_id AND d.withdrawn_at IS NULL
                AND NEW.reported_on BETWEEN d.start_date AND d.end_date) THEN
    RAISE EXCEPTION 'tax guard: the taxes of % are declared', NEW.reported_on USING ERRCODE = 'YA007';
  END IF;
  RETURN NEW;
END $$;--> statement-breakpoint
CREATE TRIGGER tax_record_place BEFORE INSERT ON tax_record FOR EACH ROW EXECUTE FUNCTION place_tax_record();--> statement-breakpoint
CREATE FUNCTION keep_declaration() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'DELETE' OR (NEW.company_id, NEW.start_date, NEW.end_date, NEW.reference, NEW.figures, NEW.declared_by, NEW.declared_at)
     IS DISTINCT FROM (OLD.company_id, OLD.start_date, OLD.end_date, OLD.reference, OLD.figures, OLD.declared_by, OLD.declared_at)
     OR OLD.withdrawn_at IS NOT NULL THEN
    RAISE EXCEPTION 'tax guard: a declaration stays as it was made' USING ERRCODE = 'YA007';
  END IF;
  RETURN NEW;
END $$;--> statement-breakpoint
CREATE TRIGGER tax_declaration_kept BEFORE UPDATE OR DELETE ON tax_declaration FOR EACH ROW EXECUTE FUNCTION keep_declaration();
