CREATE TABLE "line_journal" (
	"line_id" bigint NOT NULL,
	"journal_id" bigint NOT NULL,
	CONSTRAINT "line_journal_line_id_journal_id_pk" PRIMARY KEY("line_id","journal_id")
);
--> statement-breakpoint
CREATE INDEX "line_journal_journal_id_index" ON "line_journal" USING btree ("journal_id");--> statement-breakpoint
INSERT INTO line_journal (line_id, journal_id) SELECT id, journal_id FROM statement_line WHERE journal_id IS NOT NULL;--> statement-breakpoint
CREATE FUNCTION note_line_journal() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO line_journal (line_id, journal_id)
    SELECT id, journal_id FROM lines_after WHERE journal_id IS NOT NULL
    ON CONFLICT DO NOTHING;
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE TRIGGER statement_line_noted_new AFTER INSERT ON statement_line REFERENCING NEW TABLE AS lines_after FOR EACH STATEMENT EXECUTE FUNCTION note_line_journal();--> statement-breakpoint
CREATE TRIGGER statement_line_noted AFTER UPDATE ON statement_line REFERENCING NEW TABLE AS lines_after FOR EACH STATEMENT EXECUTE FUNCTION note_line_journal();--> statement-breakpoint
CREATE TRIGGER line_journal_fixed BEFORE UPDATE OR DELETE ON line_journal FOR EACH ROW EXECUTE FUNCTION refuse_change();
