CREATE TABLE "payment_request" (
	"document_id" bigint PRIMARY KEY NOT NULL,
	"how" text NOT NULL,
	"reason" text NOT NULL,
	"date" date,
	"asked_by" integer NOT NULL,
	"asked_at" timestamp with time zone NOT NULL,
	CONSTRAINT "payment_request_how" CHECK ("payment_request"."how" in ('reversed', 'rejected', 'recalled'))
);
--> statement-breakpoint
ALTER TABLE "bank_account" DROP CONSTRAINT "bank_account_cancelling";--> statement-breakpoint
ALTER TABLE "bank_account" ADD COLUMN "undo_reviews" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "payment_request" ADD CONSTRAINT "payment_request_document_id_payment_document_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."payment"("document_id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "bank_account" ADD CONSTRAINT "bank_account_reviews" CHECK ("bank_account"."undo_reviews" <@ array['cheques', 'deposits', 'payments']);--> statement-breakpoint
UPDATE bank_account SET undo_reviews = '{cheques,deposits}' WHERE cheque_cancelling = 'review';
