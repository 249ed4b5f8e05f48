-- An allocation is known from the instant of its journal on; instants that a clock behind had
-- written before it are lifted once.
ALTER TABLE allocation DISABLE TRIGGER allocation_fixed;--> statement-breakpoint
UPDATE allocation a SET made_at = j.posted_at FROM journal j
  WHERE j.id = a.journal_id AND a.made_at IS DISTINCT FROM j.posted_at;--> statement-breakpoint
ALTER TABLE allocation ENABLE TRIGGER allocation_fixed;
