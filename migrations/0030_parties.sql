ALTER TABLE "company" ADD COLUMN "street" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "company" ADD COLUMN "postcode" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "company" ADD COLUMN "city" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "company" ADD COLUMN "tax_number" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "company" ADD COLUMN "lei" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner" ADD COLUMN "lei" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner_bank" ADD COLUMN "number" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner_bank" ADD COLUMN "routing" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "partner_bank" ADD COLUMN "country" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "bank_account" ADD COLUMN "number" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "bank_account" ADD COLUMN "routing" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "bank_account" ADD COLUMN "country" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "payment" ADD COLUMN "account_number" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "payment" ADD COLUMN "routing" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "payment" ADD COLUMN "bank_country" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "payment" ADD COLUMN "holder" text DEFAULT '' NOT NULL;