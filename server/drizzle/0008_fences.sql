DROP INDEX "brush_set_position";--> statement-breakpoint
ALTER TABLE "gather_file" ADD COLUMN "attempt" integer;--> statement-breakpoint
ALTER TABLE "job" ADD COLUMN "attempt" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
-- Of several open ledgers of a workspace, the first is the one that was shown.
DELETE FROM "gather" WHERE "state" = 'open' AND EXISTS (SELECT 1 FROM "gather" "first" WHERE "first"."workspace_id" = "gather"."workspace_id"
  AND "first"."state" = 'open' AND ("first"."created_at", "first"."id") < ("gather"."created_at", "gather"."id"));--> statement-breakpoint
-- Sets that were made at the same moment have one place: the later ones move right behind the first.
UPDATE "brush_set" SET "position" = "position" || repeat('V', "again"."n") FROM (
  SELECT "id", (row_number() OVER (PARTITION BY "workspace_id", "position" ORDER BY "created_at", "id") - 1)::int AS "n" FROM "brush_set"
) "again" WHERE "again"."id" = "brush_set"."id" AND "again"."n" > 0;--> statement-breakpoint
CREATE UNIQUE INDEX "gather_one_open" ON "gather" USING btree ("workspace_id") WHERE "gather"."state" = 'open';--> statement-breakpoint
CREATE UNIQUE INDEX "brush_set_position" ON "brush_set" USING btree ("workspace_id","position");