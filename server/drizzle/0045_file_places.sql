CREATE TABLE "files_rest" (
	"only" boolean PRIMARY KEY DEFAULT true NOT NULL,
	"at" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "loose_object" (
	"name" text PRIMARY KEY NOT NULL,
	"since" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "blob" ADD COLUMN "object_name" text;--> statement-breakpoint
CREATE INDEX "loose_object_since" ON "loose_object" USING btree ("since");--> statement-breakpoint
CREATE UNIQUE INDEX "blob_object" ON "blob" USING btree ("object_name") WHERE "blob"."object_name" is not null;--> statement-breakpoint
CREATE INDEX "blob_in_pieces" ON "blob" USING btree ("workspace_id","sha256") WHERE "blob"."object_name" is null and "blob"."size_bytes" > 16384;--> statement-breakpoint
CREATE INDEX "blob_in_store" ON "blob" USING btree ("workspace_id","sha256") WHERE "blob"."object_name" is not null;