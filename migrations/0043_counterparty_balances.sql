ALTER TABLE "coding_balance" DROP CONSTRAINT "coding_balance_company_id_book_id_year_id_period_no_closing_account_id_coding_id_currency_pk";--> statement-breakpoint
ALTER TABLE "coding_balance" ADD COLUMN "counterparty_id" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
-- Made anew from the lines, which know the company that they concern.
DELETE FROM coding_balance;--> statement-breakpoint
INSERT INTO coding_balance (company_id, book_id, year_id, period_no, closing, account_id, coding_id, currency, counterparty_id, debit, credit, foreign_debit, foreign_credit)
SELECT company_id, book_id, year_id, period_no, closing, account_id, coding_id, currency, coalesce(counterparty_id, 0),
       sum(CASE WHEN side = 'D' THEN amount ELSE 0 END), sum(CASE WHEN side = 'C' THEN amount ELSE 0 END),
       sum(CASE WHEN side = 'D' THEN foreign_amount ELSE 0 END), sum(CASE WHEN side = 'C' THEN foreign_amount ELSE 0 END)
  FROM journal_line GROUP BY 1, 2, 3, 4, 5, 6, 7, 8, 9;--> statement-breakpoint
ALTER TABLE "coding_balance" ADD CONSTRAINT "coding_balance_company_id_book_id_year_id_period_no_closing_account_id_coding_id_currency_counterparty_id_pk" PRIMARY KEY("company_id","book_id","year_id","period_no","closing","account_id","coding_id","currency","counterparty_id");
