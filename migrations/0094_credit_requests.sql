CREATE TABLE "credit_request" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "credit_request_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"partner_id" integer NOT NULL,
	"amount" bigint,
	"currency" char(3) NOT NULL,
	"reason" text NOT NULL,
	"asked_by" integer NOT NULL,
	"asked_at" timestamp with time zone NOT NULL,
	"outcome" text,
	"note" text DEFAULT '' NOT NULL,
	"decided_by" integer,
	"decided_at" timestamp with time zone,
	CONSTRAINT "credit_request_outcome" CHECK ("credit_request"."outcome" in ('granted', 'refused')),
	CONSTRAINT "credit_request_decided" CHECK (num_nonnulls("credit_request"."outcome", "credit_request"."decided_by") in (0, 2)),
	CONSTRAINT "credit_request_second" CHECK ("credit_request"."decided_by" <> "credit_request"."asked_by")
);
--> statement-breakpoint
ALTER TABLE "credit_request" ADD CONSTRAINT "credit_request_partner_id_partner_id_fk" FOREIGN KEY ("partner_id") REFERENCES "public"."partner"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "credit_request_open" ON "credit_request" USING btree ("partner_id") WHERE outcome is null;--> statement-breakpoint

-- What was asked for stays, and so does what was decided.
CREATE FUNCTION keep_credit_request() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'DELETE' OR OLD.outcome IS NOT NULL
     OR (to_jsonb(NEW) - 'outcome' - 'note' - 'decided_by' - 'decided_at')
       <> (to_jsonb(OLD) - 'outcome' - 'note' - 'decided_by' - 'decided_at') THEN
    RAISE EXCEPTION 'ledger guard: a request of a credit limit stays as it was' USING ERRCODE = 'YA001';
  END IF;
  RETURN NEW;
END $$;--> statement-breakpoint
CREATE TRIGGER credit_request_fixed BEFORE UPDATE OR DELETE ON credit_request FOR EACH ROW EXECUTE FUNCTION keep_credit_request();
