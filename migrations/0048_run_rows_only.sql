INSERT INTO run_item (run_id, no, key, label, grouping, amount, why, state, left_out, takes, droppable, taken_as, asks, drafts, explanation)
SELECT r.id, x.no, x.item->>'key', x.item->>'label', x.item->>'group', (x.item->'amount'->>'$n')::bigint, x.item->>'why',
  CASE
    WHEN r.overrides->'dropped' ? (x.item->>'key') THEN 'dropped'
    WHEN x.item->>'leftOut' IS NULL THEN 'in'
    WHEN EXISTS (SELECT 1 FROM jsonb_array_elements(coalesce(x.item->'asks', '[]')) a
      WHERE a->>'given' = '' AND coalesce((a->>'optional')::boolean, false) = false) THEN 'waiting'
    ELSE 'out'
  END,
  x.item->>'leftOut', coalesce((x.item->>'takes')::boolean, true), coalesce((x.item->>'droppable')::boolean, false),
  (SELECT v.kind FROM run_reservation v WHERE v.run_id = r.id AND v.item_key = x.item->>'key'),
  x.item->'asks', x.item->'drafts', x.item->'explanation'
FROM run r, jsonb_array_elements(r.proposal->'items') WITH ORDINALITY x(item, no);--> statement-breakpoint
INSERT INTO run_draft (run_id, no, content)
SELECT r.id, x.no - 1, x.draft FROM run r, jsonb_array_elements(r.proposal->'drafts') WITH ORDINALITY x(draft, no);--> statement-breakpoint
UPDATE run SET detail = proposal->'detail', head = jsonb_strip_nulls(jsonb_build_object(
  'warnings', proposal->'warnings', 'blocks', proposal->'blocks', 'figures', proposal->'figures',
  'together', proposal->'together', 'makes', proposal->'makes'));--> statement-breakpoint
DROP TABLE "run_reservation" CASCADE;--> statement-breakpoint
ALTER TABLE "run" DROP COLUMN "proposal";