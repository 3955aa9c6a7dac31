CREATE TABLE "published" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"pack_id" uuid NOT NULL,
	"version" text NOT NULL,
	"host" text NOT NULL,
	"title" text NOT NULL,
	"item" text NOT NULL,
	"published_at" timestamp with time zone DEFAULT now() NOT NULL,
	"withdrawn_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "gather_file" ADD COLUMN "exchange" jsonb;--> statement-breakpoint
ALTER TABLE "taken_pack" ADD COLUMN "exchange" jsonb;--> statement-breakpoint
ALTER TABLE "taken_pack" ADD COLUMN "seen_there" text;--> statement-breakpoint
ALTER TABLE "published" ADD CONSTRAINT "published_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "published" ADD CONSTRAINT "published_pack_id_pack_id_fk" FOREIGN KEY ("pack_id") REFERENCES "public"."pack"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "published_pack" ON "published" USING btree ("pack_id");