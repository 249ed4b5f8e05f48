ALTER TABLE "period_state" ADD CONSTRAINT "period_state_area" CHECK ("period_state"."area" in ('ledger', 'payables', 'receivables', 'banks', 'assets', 'stock'));--> statement-breakpoint
ALTER TABLE "person_role" ADD CONSTRAINT "person_role_role" CHECK ("person_role"."role" in ('accountant', 'payables', 'receivables', 'treasury', 'assets', 'budget', 'controller', 'auditor', 'admin'));--> statement-breakpoint
ALTER TABLE "approval" ADD CONSTRAINT "approval_role" CHECK ("approval"."role" in ('accountant', 'payables', 'receivables', 'treasury', 'assets', 'budget', 'controller', 'auditor', 'admin'));--> statement-breakpoint
ALTER TABLE "approval_rule" ADD CONSTRAINT "approval_rule_role" CHECK ("approval_rule"."role" in ('accountant', 'payables', 'receivables', 'treasury', 'assets', 'budget', 'controller', 'auditor', 'admin'));--> statement-breakpoint
ALTER TABLE "allocation" ADD CONSTRAINT "allocation_kind" CHECK ("allocation"."kind" in ('by hand', 'payment', 'receipt', 'netting', 'reversal', 'reversal in transit', 'undone'));--> statement-breakpoint
ALTER TABLE "open_item" ADD CONSTRAINT "open_item_kind" CHECK ("open_item"."kind" in ('invoice', 'credit note', 'payment', 'receipt', 'prepayment', 'journal'));--> statement-breakpoint
ALTER TABLE "payment" ADD CONSTRAINT "payment_method" CHECK ("payment"."method" in ('transfer', 'cheque', 'manual', 'refund'));--> statement-breakpoint
ALTER TABLE "clean_up_rule" ADD CONSTRAINT "clean_up_rule_action" CHECK ("clean_up_rule"."action" in ('coding', 'account', 'ask'));--> statement-breakpoint
ALTER TABLE "order_line" ADD CONSTRAINT "order_line_kind" CHECK ("order_line"."kind" in ('goods', 'service', 'asset'));--> statement-breakpoint
ALTER TABLE "purchase_item" ADD CONSTRAINT "purchase_item_kind" CHECK ("purchase_item"."kind" in ('goods', 'service', 'asset'));--> statement-breakpoint
ALTER TABLE "share_set" ADD CONSTRAINT "share_set_way" CHECK ("share_set"."way" in ('per cent', 'fixed amounts', 'units'));