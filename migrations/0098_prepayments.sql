CREATE TABLE "prepayment" (
	"company_id" integer NOT NULL,
	"document_id" bigint NOT NULL,
	"line" integer NOT NULL,
	"of_id" bigint NOT NULL,
	"tax_code" text NOT NULL,
	"amount" bigint NOT NULL,
	CONSTRAINT "prepayment_document_id_line_pk" PRIMARY KEY("document_id","line")
);
--> statement-breakpoint
ALTER TABLE "prepayment" ADD CONSTRAINT "prepayment_company_id_company_id_fk" FOREIGN KEY ("company_id") REFERENCES "public"."company"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "prepayment" ADD CONSTRAINT "prepayment_document_id_document_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."document"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "prepayment" ADD CONSTRAINT "prepayment_of_id_document_id_fk" FOREIGN KEY ("of_id") REFERENCES "public"."document"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "prepayment_of_id_index" ON "prepayment" USING btree ("of_id");