ALTER TABLE "chain" ADD COLUMN "last_posted_at" timestamp with time zone;--> statement-breakpoint
UPDATE chain c SET last_posted_at = (SELECT max(j.posted_at) FROM journal j WHERE j.company_id = c.company_id);
