ALTER TABLE "account" DROP CONSTRAINT "account_control";--> statement-breakpoint
ALTER TABLE "account" ADD CONSTRAINT "account_control" CHECK ("account"."control" in ('payables', 'receivables', 'bank', 'asset', 'stock', 'GRNI', 'tax',
        'intercompany', 'transit'));--> statement-breakpoint
UPDATE journal_type SET controls = controls || '["transit"]'::jsonb WHERE code IN ('payment', 'receipt', 'bank', 'opening');--> statement-breakpoint

-- Accounts of payments under way become control accounts. The guard refuses that for an account with postings; here each of its lines leaves the item that it lacks.
ALTER TABLE account DISABLE TRIGGER account_guarded;--> statement-breakpoint
UPDATE account SET control = 'transit' WHERE control IS NULL AND number IN (SELECT under_way_account FROM bank_account);--> statement-breakpoint
ALTER TABLE account ENABLE TRIGGER account_guarded;--> statement-breakpoint
INSERT INTO open_item (company_id, area, account_id, partner, kind, document_id, journal_id, line_no, seq, reference, date, due_date, currency, amount, functional, left_amount, left_functional)
SELECT l.company_id, 'transit', l.account_id, coalesce(l.partner, ''), CASE WHEN d.kind = 'payment' THEN 'payment' ELSE 'journal' END, d.id, l.journal_id, l.line_no, l.seq, coalesce(nullif(j.reference, ''), j.number), l.date, coalesce(l.due_date, l.date), l.currency,
       f.amount, s.amount, f.amount, s.amount
  FROM journal_line l JOIN journal j ON j.id = l.journal_id JOIN account a ON a.id = l.account_id JOIN document d ON d.id = coalesce(j.origin_id, j.id),
       LATERAL (SELECT CASE WHEN l.side = 'D' THEN l.foreign_amount ELSE -l.foreign_amount END AS amount) f, LATERAL (SELECT CASE WHEN l.side = 'D' THEN l.amount ELSE -l.amount END AS amount) s
 WHERE a.control = 'transit';--> statement-breakpoint
-- What was reversed settles with its reversal.
INSERT INTO allocation (company_id, kind, date, seq, journal_id, made_by, made_at)
SELECT DISTINCT r.company_id, 'reversal in transit', r.date, r.seq, r.id, r.posted_by, r.posted_at
  FROM journal r JOIN open_item i ON i.journal_id = r.id AND i.area = 'transit' WHERE r.reverses_id IS NOT NULL;--> statement-breakpoint
INSERT INTO allocation_line (allocation_id, item_id, amount, functional)
SELECT a.id, i.id, i.left_amount, i.left_functional FROM allocation a JOIN journal r ON r.id = a.journal_id
  JOIN open_item i ON i.journal_id IN (r.id, r.reverses_id) AND i.area = 'transit' WHERE a.kind = 'reversal in transit';--> statement-breakpoint
UPDATE open_item i SET left_amount = 0, left_functional = 0 FROM allocation_line l JOIN allocation a ON a.id = l.allocation_id
 WHERE l.item_id = i.id AND a.kind = 'reversal in transit';
