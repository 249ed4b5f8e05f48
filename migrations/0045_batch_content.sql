ALTER TABLE "batch" DROP COLUMN "period";--> statement-breakpoint
ALTER TABLE "batch" DROP COLUMN "description";--> statement-breakpoint
ALTER TABLE "batch" DROP COLUMN "controls";