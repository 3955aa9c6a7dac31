CREATE TABLE "source" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"name" text NOT NULL,
	"file" jsonb NOT NULL,
	"plan" jsonb NOT NULL,
	"revision" integer DEFAULT 1 NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "source_made" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"source_id" uuid NOT NULL,
	"part" text NOT NULL,
	"brush_id" uuid NOT NULL,
	"revision" integer NOT NULL,
	"reading" text NOT NULL
);
--> statement-breakpoint
ALTER TABLE "source" ADD CONSTRAINT "source_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "source_made" ADD CONSTRAINT "source_made_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "source_made" ADD CONSTRAINT "source_made_source_id_source_id_fk" FOREIGN KEY ("source_id") REFERENCES "public"."source"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "source_made" ADD CONSTRAINT "source_made_brush_id_brush_id_fk" FOREIGN KEY ("brush_id") REFERENCES "public"."brush"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "source_newest" ON "source" USING btree ("workspace_id","updated_at");--> statement-breakpoint
CREATE UNIQUE INDEX "source_made_part" ON "source_made" USING btree ("source_id","part");--> statement-breakpoint
CREATE INDEX "source_made_brush" ON "source_made" USING btree ("brush_id");