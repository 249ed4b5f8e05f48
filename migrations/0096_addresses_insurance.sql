ALTER TABLE "partner" ADD COLUMN "delivery_name" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "delivery_street" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "delivery_postcode" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "delivery_city" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "delivery_country" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "statement_name" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "statement_street" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "statement_postcode" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "statement_city" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "statement_country" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "statement_email" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "insurer" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "insured_amount" bigint;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "insured_until" date;