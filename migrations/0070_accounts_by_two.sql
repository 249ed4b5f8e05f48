ALTER TABLE "bank_account" ADD COLUMN "opened_on" date;--> statement-breakpoint
ALTER TABLE "bank_account" ADD COLUMN "waits" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "bank_account" ADD COLUMN "asked_by" integer;--> statement-breakpoint
ALTER TABLE "bank_account" ADD COLUMN "closes_on" date;--> statement-breakpoint
ALTER TABLE "bank_account" ADD COLUMN "holder" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "bank_account" ADD COLUMN "signatories" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "bank_account" ADD COLUMN "tolerance" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "bank_account" ADD CONSTRAINT "bank_account_waits" CHECK ("bank_account"."waits" in ('', 'opening', 'change', 'closing'));--> statement-breakpoint
ALTER TABLE "bank_account" ADD CONSTRAINT "bank_account_asked" CHECK (("bank_account"."waits" = '') = ("bank_account"."asked_by" is null) and ("bank_account"."waits" = 'closing') = ("bank_account"."closes_on" is not null));