CREATE TABLE "dispute" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "dispute_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"company_id" integer NOT NULL,
	"partner" text NOT NULL,
	"item_id" bigint NOT NULL,
	"amount" bigint NOT NULL,
	"reason" text NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"owner_id" integer,
	"by" date,
	"opened_by" integer NOT NULL,
	"opened_on" date NOT NULL,
	"opened_at" timestamp with time zone NOT NULL,
	"outcome" text,
	"closed_note" text DEFAULT '' NOT NULL,
	"closed_by" integer,
	"closed_on" date,
	"closed_at" timestamp with time zone,
	CONSTRAINT "dispute_reason" CHECK ("dispute"."reason" in ('price', 'quantity', 'quality', 'not ordered', 'paid already', 'paper missing', 'tax', 'other')),
	CONSTRAINT "dispute_outcome" CHECK ("dispute"."outcome" in ('credited', 'upheld', 'part')),
	CONSTRAINT "dispute_amount" CHECK ("dispute"."amount" > 0)
);
--> statement-breakpoint
CREATE TABLE "promise" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "promise_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"company_id" integer NOT NULL,
	"partner" text NOT NULL,
	"made_on" date NOT NULL,
	"due" date NOT NULL,
	"how" text DEFAULT '' NOT NULL,
	"promised_by" text DEFAULT '' NOT NULL,
	"made_by" integer NOT NULL,
	"made_at" timestamp with time zone NOT NULL,
	"after" bigint NOT NULL,
	"withdrawn_by" integer,
	"withdrawn_at" timestamp with time zone,
	CONSTRAINT "promise_ahead" CHECK ("promise"."due" >= "promise"."made_on")
);
--> statement-breakpoint
CREATE TABLE "promise_item" (
	"promise_id" integer NOT NULL,
	"item_id" bigint NOT NULL,
	"currency" char(3) NOT NULL,
	"amount" bigint NOT NULL,
	CONSTRAINT "promise_item_promise_id_item_id_pk" PRIMARY KEY("promise_id","item_id"),
	CONSTRAINT "promise_item_amount" CHECK ("promise_item"."amount" > 0)
);
--> statement-breakpoint
ALTER TABLE "remark" DROP CONSTRAINT "remark_subject";--> statement-breakpoint
ALTER TABLE "customer_group" ADD COLUMN "policy" jsonb;--> statement-breakpoint
ALTER TABLE "remark" ADD COLUMN "partner_id" integer;--> statement-breakpoint
ALTER TABLE "remark" ADD COLUMN "company_id" integer;--> statement-breakpoint
ALTER TABLE "remark" ADD COLUMN "kind" text DEFAULT 'note' NOT NULL;--> statement-breakpoint
ALTER TABLE "remark" ADD COLUMN "next_step" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "remark" ADD COLUMN "next_on" date;--> statement-breakpoint
ALTER TABLE "dispute" ADD CONSTRAINT "dispute_company_id_company_id_fk" FOREIGN KEY ("company_id") REFERENCES "public"."company"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "dispute" ADD CONSTRAINT "dispute_item_id_open_item_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."open_item"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "promise" ADD CONSTRAINT "promise_company_id_company_id_fk" FOREIGN KEY ("company_id") REFERENCES "public"."company"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "promise_item" ADD CONSTRAINT "promise_item_promise_id_promise_id_fk" FOREIGN KEY ("promise_id") REFERENCES "public"."promise"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "promise_item" ADD CONSTRAINT "promise_item_item_id_open_item_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."open_item"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "dispute_company_id_partner_index" ON "dispute" USING btree ("company_id","partner");--> statement-breakpoint
CREATE UNIQUE INDEX "dispute_open" ON "dispute" USING btree ("item_id") WHERE outcome is null;--> statement-breakpoint
CREATE INDEX "promise_company_id_partner_index" ON "promise" USING btree ("company_id","partner");--> statement-breakpoint
CREATE INDEX "promise_item_item_id_index" ON "promise_item" USING btree ("item_id");--> statement-breakpoint
ALTER TABLE "remark" ADD CONSTRAINT "remark_partner_id_partner_id_fk" FOREIGN KEY ("partner_id") REFERENCES "public"."partner"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "remark" ADD CONSTRAINT "remark_company_id_company_id_fk" FOREIGN KEY ("company_id") REFERENCES "public"."company"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "remark_company_id_partner_id_index" ON "remark" USING btree ("company_id","partner_id") WHERE partner_id is not null;--> statement-breakpoint
ALTER TABLE "remark" ADD CONSTRAINT "remark_kind" CHECK ("remark"."kind" in ('note', 'call', 'letter', 'mail in', 'mail out', 'visit'));--> statement-breakpoint
ALTER TABLE "remark" ADD CONSTRAINT "remark_subject" CHECK (num_nonnulls("remark"."document_id", "remark"."statement_line_id", "remark"."partner_id") = 1
        and ("remark"."partner_id" is null) = ("remark"."company_id" is null));--> statement-breakpoint
-- A promise stays as it was made, but that it can be withdrawn; a dispute, but that it is closed once.
CREATE FUNCTION keep_promise() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'DELETE' OR OLD.withdrawn_at IS NOT NULL
     OR (to_jsonb(NEW) - 'withdrawn_by' - 'withdrawn_at') <> (to_jsonb(OLD) - 'withdrawn_by' - 'withdrawn_at') THEN
    RAISE EXCEPTION 'ledger guard: a promise stays as it was made' USING ERRCODE = 'YA001';
  END IF;
  RETURN NEW;
END $$;--> statement-breakpoint
CREATE TRIGGER promise_fixed BEFORE UPDATE OR DELETE ON promise FOR EACH ROW EXECUTE FUNCTION keep_promise();--> statement-breakpoint
CREATE TRIGGER promise_item_fixed BEFORE UPDATE OR DELETE ON promise_item FOR EACH ROW EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE FUNCTION keep_dispute() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'DELETE' OR OLD.outcome IS NOT NULL
     OR (to_jsonb(NEW) - 'outcome' - 'closed_note' - 'closed_by' - 'closed_on' - 'closed_at')
        <> (to_jsonb(OLD) - 'outcome' - 'closed_note' - 'closed_by' - 'closed_on' - 'closed_at') THEN
    RAISE EXCEPTION 'ledger guard: a dispute stays as it was opened and closed' USING ERRCODE = 'YA001';
  END IF;
  RETURN NEW;
END $$;--> statement-breakpoint
CREATE TRIGGER dispute_fixed BEFORE UPDATE OR DELETE ON dispute FOR EACH ROW EXECUTE FUNCTION keep_dispute();
