CREATE TABLE "run_reservation" (
	"kind" text NOT NULL,
	"item_key" text NOT NULL,
	"run_id" bigint NOT NULL,
	CONSTRAINT "run_reservation_kind_item_key_pk" PRIMARY KEY("kind","item_key")
);
--> statement-breakpoint
ALTER TABLE "run_reservation" ADD CONSTRAINT "run_reservation_run_id_run_id_fk" FOREIGN KEY ("run_id") REFERENCES "public"."run"("id") ON DELETE no action ON UPDATE no action;