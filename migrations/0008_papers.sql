CREATE TABLE "stand_in" (
	"person_id" integer PRIMARY KEY NOT NULL,
	"stand_in_id" integer NOT NULL,
	"from_date" date NOT NULL,
	"to_date" date NOT NULL
);
--> statement-breakpoint
CREATE TABLE "attachment" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "attachment_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"document_id" bigint NOT NULL,
	"name" text NOT NULL,
	"type" text NOT NULL,
	"size" integer NOT NULL,
	"content" "bytea" NOT NULL,
	"added_by" integer NOT NULL,
	"added_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "remark" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "remark_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"document_id" bigint NOT NULL,
	"person_id" integer NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"text" text NOT NULL,
	"mentions" integer[] NOT NULL
);
--> statement-breakpoint
CREATE TABLE "approval" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "approval_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"document_id" bigint NOT NULL,
	"role" text NOT NULL,
	"why" text NOT NULL,
	"version" integer NOT NULL,
	"asked_by" integer NOT NULL,
	"asked_at" timestamp with time zone NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"decided_by" integer,
	"decided_at" timestamp with time zone,
	"reason" text DEFAULT '' NOT NULL,
	CONSTRAINT "approval_state" CHECK ("approval"."state" in ('waiting', 'approved', 'returned', 'withdrawn'))
);
--> statement-breakpoint
CREATE TABLE "approval_rule" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "approval_rule_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"sort" integer NOT NULL,
	"type" text,
	"company_id" integer,
	"account_from" text,
	"account_to" text,
	"minimum" bigint NOT NULL,
	"currency" char(3) NOT NULL,
	"role" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "batch" (
	"document_id" bigint PRIMARY KEY NOT NULL,
	"period" text NOT NULL,
	"description" text DEFAULT '' NOT NULL,
	"controls" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"waived_by" integer,
	"waived_reason" text DEFAULT '' NOT NULL
);
--> statement-breakpoint
CREATE TABLE "journal_template" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "journal_template_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"company_id" integer NOT NULL,
	"name" text NOT NULL,
	"content" jsonb NOT NULL,
	"saved_by" integer NOT NULL,
	"saved_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "journal_template_companyId_name_unique" UNIQUE("company_id","name")
);
--> statement-breakpoint
CREATE TABLE "shortcut" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "shortcut_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"company_id" integer NOT NULL,
	"person_id" integer,
	"name" text NOT NULL,
	"account" text NOT NULL,
	"dimensions" jsonb NOT NULL,
	"description" text DEFAULT '' NOT NULL,
	CONSTRAINT "shortcut_companyId_personId_name_unique" UNIQUE NULLS NOT DISTINCT("company_id","person_id","name")
);
--> statement-breakpoint
ALTER TABLE "journal_draft" ADD COLUMN "batch_id" bigint;--> statement-breakpoint
ALTER TABLE "stand_in" ADD CONSTRAINT "stand_in_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stand_in" ADD CONSTRAINT "stand_in_stand_in_id_person_id_fk" FOREIGN KEY ("stand_in_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "attachment" ADD CONSTRAINT "attachment_document_id_document_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."document"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "remark" ADD CONSTRAINT "remark_document_id_document_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."document"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "approval" ADD CONSTRAINT "approval_document_id_document_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."document"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "approval_rule" ADD CONSTRAINT "approval_rule_company_id_company_id_fk" FOREIGN KEY ("company_id") REFERENCES "public"."company"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "batch" ADD CONSTRAINT "batch_document_id_document_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."document"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "journal_template" ADD CONSTRAINT "journal_template_company_id_company_id_fk" FOREIGN KEY ("company_id") REFERENCES "public"."company"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "shortcut" ADD CONSTRAINT "shortcut_company_id_company_id_fk" FOREIGN KEY ("company_id") REFERENCES "public"."company"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "attachment_document_id_index" ON "attachment" USING btree ("document_id");--> statement-breakpoint
CREATE INDEX "remark_document_id_index" ON "remark" USING btree ("document_id");--> statement-breakpoint
CREATE INDEX "approval_document_id_index" ON "approval" USING btree ("document_id");--> statement-breakpoint
CREATE INDEX "approval_state_index" ON "approval" USING btree ("state");--> statement-breakpoint
ALTER TABLE "journal_draft" ADD CONSTRAINT "journal_draft_batch_id_document_id_fk" FOREIGN KEY ("batch_id") REFERENCES "public"."document"("id") ON DELETE no action ON UPDATE no action;