CREATE TABLE "draft_print" (
	"document_id" bigint NOT NULL,
	"no" integer DEFAULT 0 NOT NULL,
	"prints" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "draft_print_document_id_no_pk" PRIMARY KEY("document_id","no")
);
--> statement-breakpoint
ALTER TABLE "deposit_part" DROP CONSTRAINT "deposit_part_kind";--> statement-breakpoint
ALTER TABLE "deposit_part" DROP CONSTRAINT "deposit_part_amount";--> statement-breakpoint
ALTER TABLE "payment" DROP CONSTRAINT "payment_method";--> statement-breakpoint
ALTER TABLE "deposit_part" ADD COLUMN "due_date" date;--> statement-breakpoint
ALTER TABLE "deposit_part" ADD COLUMN "fee" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "payment" ADD COLUMN "due_date" date;--> statement-breakpoint
ALTER TABLE "draft_print" ADD CONSTRAINT "draft_print_document_id_document_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."document"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "deposit_part" ADD CONSTRAINT "deposit_part_due" CHECK (("deposit_part"."kind" in ('bill', 'note')) = ("deposit_part"."due_date" is not null) and ("deposit_part"."fee" = 0 or "deposit_part"."due_date" is not null));--> statement-breakpoint
ALTER TABLE "deposit_part" ADD CONSTRAINT "deposit_part_kind" CHECK ("deposit_part"."kind" in ('cheque', 'cash', 'bill', 'note'));--> statement-breakpoint
ALTER TABLE "deposit_part" ADD CONSTRAINT "deposit_part_amount" CHECK ("deposit_part"."amount" > 0 and "deposit_part"."fee" >= 0 and "deposit_part"."fee" < "deposit_part"."amount");--> statement-breakpoint
ALTER TABLE "payment" ADD CONSTRAINT "payment_due" CHECK (("payment"."method" in ('bill', 'note')) = ("payment"."due_date" is not null));--> statement-breakpoint
ALTER TABLE "payment" ADD CONSTRAINT "payment_method" CHECK ("payment"."method" in ('transfer', 'cheque', 'manual', 'bill', 'note', 'refund'));