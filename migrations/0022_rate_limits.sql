CREATE TABLE "rate_limit" (
	"base" char(3) NOT NULL,
	"quote" char(3) NOT NULL,
	"days" integer NOT NULL,
	CONSTRAINT "rate_limit_base_quote_pk" PRIMARY KEY("base","quote"),
	CONSTRAINT "rate_limit_days" CHECK ("rate_limit"."days" between 0 and 3660)
);
