CREATE TABLE "outbox_file" (
	"outbox_id" bigint NOT NULL,
	"no" smallint NOT NULL,
	"name" text NOT NULL,
	"content" text NOT NULL,
	CONSTRAINT "outbox_file_outbox_id_no_pk" PRIMARY KEY("outbox_id","no")
);
--> statement-breakpoint
ALTER TABLE "outbox_file" ADD CONSTRAINT "outbox_file_outbox_id_outbox_id_fk" FOREIGN KEY ("outbox_id") REFERENCES "public"."outbox"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
INSERT INTO "outbox_file" ("outbox_id", "no", "name", "content")
  SELECT "id", 1, "file_name", "file" FROM "outbox" WHERE "file" <> '';--> statement-breakpoint
ALTER TABLE "outbox" DROP COLUMN "file_name";--> statement-breakpoint
ALTER TABLE "outbox" DROP COLUMN "file";