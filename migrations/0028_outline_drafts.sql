ALTER TABLE "outline" ADD COLUMN "used_at" timestamp with time zone;--> statement-breakpoint
UPDATE outline SET used_at = saved_at;
