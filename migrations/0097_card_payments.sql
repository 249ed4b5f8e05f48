ALTER TABLE "deposit_part" DROP CONSTRAINT "deposit_part_kind";--> statement-breakpoint
ALTER TABLE "deposit_part" DROP CONSTRAINT "deposit_part_due";--> statement-breakpoint
ALTER TABLE "deposit_part" ADD CONSTRAINT "deposit_part_kind" CHECK ("deposit_part"."kind" in ('cheque', 'cash', 'bill', 'note', 'card'));--> statement-breakpoint
ALTER TABLE "deposit_part" ADD CONSTRAINT "deposit_part_due" CHECK (("deposit_part"."kind" in ('bill', 'note')) = ("deposit_part"."due_date" is not null) and
        ("deposit_part"."fee" = 0 or "deposit_part"."due_date" is not null or "deposit_part"."kind" = 'card'));