CREATE TABLE "material" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"kind" text NOT NULL,
	"name" text NOT NULL,
	"blob_sha" text NOT NULL,
	"pixel_sha" text NOT NULL,
	"width" integer NOT NULL,
	"height" integer NOT NULL,
	"seam_across" real NOT NULL,
	"seam_down" real NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "pocket" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"name" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "pocket_item" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"pocket_id" uuid NOT NULL,
	"brush_id" uuid NOT NULL,
	"size_px" real NOT NULL,
	"label" text DEFAULT '' NOT NULL,
	"position" text NOT NULL
);
--> statement-breakpoint
ALTER TABLE "brush" ADD COLUMN "grain_sha" text;--> statement-breakpoint
ALTER TABLE "brush" ADD COLUMN "ribbon" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "brush" ADD COLUMN "copied_from" jsonb;--> statement-breakpoint
ALTER TABLE "brush_version" ADD COLUMN "label" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "gather_line" ADD COLUMN "use" text DEFAULT 'tip' NOT NULL;--> statement-breakpoint
ALTER TABLE "gather_line" ADD COLUMN "seam_across" real;--> statement-breakpoint
ALTER TABLE "gather_line" ADD COLUMN "seam_down" real;--> statement-breakpoint
ALTER TABLE "gather_line" ADD COLUMN "grain" jsonb;--> statement-breakpoint
ALTER TABLE "material" ADD CONSTRAINT "material_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "pocket" ADD CONSTRAINT "pocket_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "pocket_item" ADD CONSTRAINT "pocket_item_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "pocket_item" ADD CONSTRAINT "pocket_item_pocket_id_pocket_id_fk" FOREIGN KEY ("pocket_id") REFERENCES "public"."pocket"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "pocket_item" ADD CONSTRAINT "pocket_item_brush_id_brush_id_fk" FOREIGN KEY ("brush_id") REFERENCES "public"."brush"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "material_pixels" ON "material" USING btree ("workspace_id","kind","pixel_sha");--> statement-breakpoint
CREATE INDEX "pocket_item_pocket" ON "pocket_item" USING btree ("pocket_id");--> statement-breakpoint
CREATE INDEX "pocket_item_brush" ON "pocket_item" USING btree ("brush_id");--> statement-breakpoint
CREATE INDEX "brush_grain" ON "brush" USING btree ("workspace_id","grain_sha") WHERE "brush"."grain_sha" is not null;
--> statement-breakpoint
-- Recipes and packs of version 2 say all that version 1 said, in the same way; see migrate-recipe.ts and manifest.ts.
UPDATE "brush_version" SET "snapshot" = jsonb_set("snapshot", '{recipe,version}', '2') WHERE "snapshot" #>> '{recipe,version}' = '1';--> statement-breakpoint
UPDATE "gather_line" SET "brush" = jsonb_set("brush", '{recipe,version}', '2') WHERE "brush" #>> '{recipe,version}' = '1';--> statement-breakpoint
UPDATE "release" SET "manifest" = "manifest" || jsonb_build_object('version', 2, 'grains', '[]'::jsonb, 'strips', '[]'::jsonb, 'pockets', '[]'::jsonb, 'brushes',
  (SELECT coalesce(jsonb_agg(jsonb_set(b, '{recipe,version}', '2') ORDER BY n), '[]'::jsonb) FROM jsonb_array_elements("manifest" -> 'brushes') WITH ORDINALITY AS each(b, n)))
  WHERE "manifest" ->> 'version' = '1';
