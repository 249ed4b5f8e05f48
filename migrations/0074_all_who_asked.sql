ALTER TABLE "bank_account" DROP CONSTRAINT "bank_account_asked";--> statement-breakpoint
ALTER TABLE "bank_account" ALTER COLUMN "asked_by" SET DATA TYPE integer[] USING CASE WHEN "asked_by" IS NULL THEN ARRAY[]::integer[] ELSE ARRAY["asked_by"] END;--> statement-breakpoint
ALTER TABLE "bank_account" ALTER COLUMN "asked_by" SET DEFAULT '{}';--> statement-breakpoint
ALTER TABLE "bank_account" ALTER COLUMN "asked_by" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "bank_account" ADD CONSTRAINT "bank_account_asked" CHECK (("bank_account"."waits" = '') = ("bank_account"."asked_by" = '{}') and ("bank_account"."waits" = 'closing') = ("bank_account"."closes_on" is not null));