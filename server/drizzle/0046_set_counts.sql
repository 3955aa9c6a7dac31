CREATE TABLE "set_count" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"workspace_id" uuid NOT NULL,
	"set_id" uuid NOT NULL,
	"change" integer NOT NULL
);
--> statement-breakpoint
ALTER TABLE "set_count" ADD CONSTRAINT "set_count_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "set_count" ADD CONSTRAINT "set_count_set_id_brush_set_id_fk" FOREIGN KEY ("set_id") REFERENCES "public"."brush_set"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "set_count_of" ON "set_count" USING btree ("workspace_id","set_id");--> statement-breakpoint
CREATE INDEX "set_count_set" ON "set_count" USING btree ("set_id");--> statement-breakpoint
CREATE INDEX "brush_binned" ON "brush" USING btree ("workspace_id","id") WHERE "brush"."deleted_at" is not null;--> statement-breakpoint
CREATE FUNCTION count_set_items() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  -- a set or a workspace that goes takes its counts with it
  INSERT INTO "set_count" ("workspace_id", "set_id", "change")
  SELECT c."workspace_id", c."set_id", CASE TG_OP WHEN 'INSERT' THEN count(*) ELSE -count(*) END
  FROM changed c
  WHERE TG_OP = 'INSERT' OR (
    EXISTS (SELECT FROM "brush_set" s WHERE s."id" = c."set_id")
    AND EXISTS (SELECT FROM "workspace" w WHERE w."id" = c."workspace_id"))
  GROUP BY 1, 2;
  -- many rows of a set are made one; whoever makes one of theirs at this moment keeps them
  WITH many AS (
    SELECT m."set_id" FROM (SELECT DISTINCT "set_id" FROM changed) m
    WHERE (SELECT count(*) FROM "set_count" n WHERE n."set_id" = m."set_id") > 32
  ), taken AS (
    SELECT n."id" FROM "set_count" n WHERE n."set_id" IN (SELECT "set_id" FROM many) FOR UPDATE SKIP LOCKED
  ), gone AS (
    DELETE FROM "set_count" WHERE "id" IN (SELECT "id" FROM taken) RETURNING "workspace_id", "set_id", "change"
  )
  INSERT INTO "set_count" ("workspace_id", "set_id", "change")
  SELECT "workspace_id", "set_id", sum("change") FROM gone GROUP BY 1, 2 HAVING sum("change") <> 0;
  RETURN NULL;
END
$$;
--> statement-breakpoint
CREATE TRIGGER "set_items_new" AFTER INSERT ON "set_item"
  REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION count_set_items();
--> statement-breakpoint
CREATE TRIGGER "set_items_gone" AFTER DELETE ON "set_item"
  REFERENCING OLD TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION count_set_items();
--> statement-breakpoint
INSERT INTO "set_count" ("workspace_id", "set_id", "change") SELECT "workspace_id", "set_id", count(*) FROM "set_item" GROUP BY 1, 2;
