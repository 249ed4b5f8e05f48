ALTER TABLE "job" DROP CONSTRAINT "job_kind";--> statement-breakpoint
ALTER TABLE "bank_account" ADD COLUMN "posts_certain" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "job" ADD CONSTRAINT "job_kind" CHECK ("job"."kind" in ('compute-run', 'post-run', 'match-lines', 'post-certain'));