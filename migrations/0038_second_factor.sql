CREATE TABLE "recovery_code" (
	"person_id" integer NOT NULL,
	"hash" text NOT NULL,
	"used_at" timestamp with time zone,
	CONSTRAINT "recovery_code_person_id_hash_pk" PRIMARY KEY("person_id","hash")
);
--> statement-breakpoint
CREATE TABLE "second_factor" (
	"person_id" integer PRIMARY KEY NOT NULL,
	"secret" text NOT NULL,
	"confirmed_at" timestamp with time zone,
	"last_step" bigint DEFAULT 0 NOT NULL
);
--> statement-breakpoint
ALTER TABLE "recovery_code" ADD CONSTRAINT "recovery_code_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "second_factor" ADD CONSTRAINT "second_factor_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;