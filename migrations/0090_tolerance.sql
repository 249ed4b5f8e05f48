ALTER TABLE "customer_group" ADD COLUMN "tolerance" jsonb;--> statement-breakpoint
-- A discount of a customer takes its part of the output tax back, also where a receipt is recorded by hand.
UPDATE journal_type SET controls = controls || '["tax"]'::jsonb
  WHERE code = 'receipt' AND NOT controls @> '["tax"]'::jsonb;
