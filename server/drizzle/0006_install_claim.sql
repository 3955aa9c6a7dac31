CREATE TABLE "install_claim" (
	"id" boolean PRIMARY KEY DEFAULT true NOT NULL,
	"claimed_at" timestamp with time zone DEFAULT now() NOT NULL
);
