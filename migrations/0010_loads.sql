CREATE TABLE "journal_load" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "journal_load_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"hash" text NOT NULL,
	"company_id" integer NOT NULL,
	"person_id" integer NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"journals" integer NOT NULL,
	"mode" text NOT NULL
);
--> statement-breakpoint
CREATE INDEX "journal_load_hash_index" ON "journal_load" USING btree ("hash");