CREATE TABLE "parcel" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"wanted" jsonb NOT NULL,
	"title" text NOT NULL,
	"file_name" text,
	"media_type" text,
	"blob_sha" text,
	"size_bytes" bigint,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "parcel" ADD CONSTRAINT "parcel_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "parcel_workspace" ON "parcel" USING btree ("workspace_id","created_at");