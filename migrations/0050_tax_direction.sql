ALTER TABLE "tax_code" ADD COLUMN "direction" text DEFAULT 'purchase' NOT NULL;--> statement-breakpoint
ALTER TABLE "tax_record" ADD COLUMN "direction" text DEFAULT 'purchase' NOT NULL;--> statement-breakpoint
ALTER TABLE "tax_code" ADD CONSTRAINT "tax_code_direction" CHECK ("tax_code"."direction" in ('purchase', 'sale'));--> statement-breakpoint
ALTER TABLE "tax_code" ADD CONSTRAINT "tax_code_kind" CHECK ("tax_code"."kind" in ('standard', 'reverse', 'none', 'withheld'));--> statement-breakpoint
ALTER TABLE "tax_record" ADD CONSTRAINT "tax_record_direction" CHECK ("tax_record"."direction" in ('purchase', 'sale'));