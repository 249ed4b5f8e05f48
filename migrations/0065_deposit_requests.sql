CREATE TABLE "deposit_request" (
	"document_id" bigint PRIMARY KEY NOT NULL,
	"request" jsonb NOT NULL,
	"asked_by" integer NOT NULL,
	"asked_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "deposit_request" ADD CONSTRAINT "deposit_request_document_id_deposit_document_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."deposit"("document_id") ON DELETE no action ON UPDATE no action;