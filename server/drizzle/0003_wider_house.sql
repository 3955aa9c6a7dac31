ALTER TABLE "brush" ADD COLUMN "starter" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "gather" ADD COLUMN "added" jsonb;--> statement-breakpoint
ALTER TABLE "brush_set" ADD COLUMN "folder" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "brush_set" ADD COLUMN "starter" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "tip" ADD COLUMN "file_keys" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "tip_frame" ADD COLUMN "name" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "workspace" ADD COLUMN "starter_hidden" boolean DEFAULT false NOT NULL;--> statement-breakpoint
-- Recipes of version 3 have two amounts of scatter; packs of version 4 names of frames and unknown keys. See migrate-recipe.ts and migrate.ts of core.
CREATE FUNCTION pg_temp.to_recipe_3(r jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
  SELECT r || jsonb_build_object('version', 3, 'path', ((r -> 'path') - 'scatterPct' - 'scatterAxis') || jsonb_build_object('scatter', jsonb_build_object(
    'acrossPct', CASE WHEN r #>> '{path,scatterAxis}' IN ('across', 'both') THEN r #> '{path,scatterPct}' ELSE '0'::jsonb END,
    'alongPct', CASE WHEN r #>> '{path,scatterAxis}' IN ('along', 'both') THEN r #> '{path,scatterPct}' ELSE '0'::jsonb END)))
$$;--> statement-breakpoint
UPDATE "brush_version" SET "snapshot" = jsonb_set("snapshot", '{recipe}', pg_temp.to_recipe_3("snapshot" -> 'recipe')) WHERE "snapshot" #>> '{recipe,version}' = '2';--> statement-breakpoint
UPDATE "gather_line" SET "brush" = jsonb_set("brush", '{recipe}', pg_temp.to_recipe_3("brush" -> 'recipe')) WHERE "brush" #>> '{recipe,version}' = '2';--> statement-breakpoint
UPDATE "release" SET "manifest" = "manifest" || jsonb_build_object('version', 4, 'brushes',
  (SELECT coalesce(jsonb_agg(b || jsonb_build_object('recipe', pg_temp.to_recipe_3(b -> 'recipe'), 'frameNames', '[]'::jsonb, 'keys', '[]'::jsonb) ORDER BY n), '[]'::jsonb) FROM jsonb_array_elements("manifest" -> 'brushes') WITH ORDINALITY AS each(b, n)))
  WHERE "manifest" ->> 'version' = '3';--> statement-breakpoint
UPDATE "gather_line" SET "brush" = ("brush" - 'places') || jsonb_build_object('inSets', "brush" -> 'places') WHERE "brush" ? 'places';
