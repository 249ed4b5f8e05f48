CREATE TABLE "seal" (
	"no" integer PRIMARY KEY NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"previous" text NOT NULL,
	"digest" text NOT NULL,
	"rows" integer NOT NULL,
	"heads" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "seal_columns" (
	"seal_no" integer NOT NULL,
	"table" text NOT NULL,
	"columns" text[] NOT NULL,
	CONSTRAINT "seal_columns_seal_no_table_pk" PRIMARY KEY("seal_no","table")
);
--> statement-breakpoint
CREATE TABLE "sealed_row" (
	"table" text NOT NULL,
	"key" text NOT NULL,
	"seal_no" integer NOT NULL,
	"hash" char(64) NOT NULL,
	CONSTRAINT "sealed_row_table_key_pk" PRIMARY KEY("table","key")
);
--> statement-breakpoint
CREATE TRIGGER seal_fixed BEFORE UPDATE OR DELETE ON seal FOR EACH ROW EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER seal_whole BEFORE TRUNCATE ON seal FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER sealed_row_fixed BEFORE UPDATE OR DELETE ON sealed_row FOR EACH ROW EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER sealed_row_whole BEFORE TRUNCATE ON sealed_row FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER seal_columns_fixed BEFORE UPDATE OR DELETE ON seal_columns FOR EACH ROW EXECUTE FUNCTION refuse_change();--> statement-breakpoint
CREATE TRIGGER seal_columns_whole BEFORE TRUNCATE ON seal_columns FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();
