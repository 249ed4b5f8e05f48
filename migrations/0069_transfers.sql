ALTER TABLE "run" DROP CONSTRAINT "run_kind";--> statement-breakpoint
ALTER TABLE "run_item" DROP CONSTRAINT "run_item_taken_as";--> statement-breakpoint
ALTER TABLE "run_schedule" DROP CONSTRAINT "run_schedule_kind";--> statement-breakpoint
ALTER TABLE "payment" ADD COLUMN "to_bank_id" integer;--> statement-breakpoint
ALTER TABLE "payment" ADD COLUMN "text" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "payment" ADD CONSTRAINT "payment_to_bank_id_bank_account_id_fk" FOREIGN KEY ("to_bank_id") REFERENCES "public"."bank_account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "run" ADD CONSTRAINT "run_kind" CHECK ("run"."kind" in ('year-end', 'reversals', 'recurring', 'payment', 'single-payment', 'recurring-invoice', 'accrual', 'bank-lines', 'transfer', 'clean-up'));--> statement-breakpoint
ALTER TABLE "run_item" ADD CONSTRAINT "run_item_taken_as" CHECK ("run_item"."taken_as" in ('year-end', 'reversals', 'recurring', 'payment', 'single-payment', 'recurring-invoice', 'accrual', 'bank-lines', 'transfer', 'clean-up'));--> statement-breakpoint
ALTER TABLE "run_schedule" ADD CONSTRAINT "run_schedule_kind" CHECK ("run_schedule"."kind" in ('year-end', 'reversals', 'recurring', 'payment', 'single-payment', 'recurring-invoice', 'accrual', 'bank-lines', 'transfer', 'clean-up'));