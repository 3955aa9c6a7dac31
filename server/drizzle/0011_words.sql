CREATE TABLE "brush_word" (
	"workspace_id" uuid NOT NULL,
	"word" text COLLATE "C" NOT NULL,
	"sort_name" text NOT NULL,
	"brush_id" uuid NOT NULL,
	"short_text" text,
	CONSTRAINT "brush_word_brush_id_word_pk" PRIMARY KEY("brush_id","word")
);
--> statement-breakpoint
CREATE TABLE "library_word" (
	"workspace_id" uuid NOT NULL,
	"word" text COLLATE "C" NOT NULL,
	CONSTRAINT "library_word_workspace_id_word_pk" PRIMARY KEY("workspace_id","word")
);
--> statement-breakpoint
ALTER TABLE "brush_word" ADD CONSTRAINT "brush_word_brush_id_brush_id_fk" FOREIGN KEY ("brush_id") REFERENCES "public"."brush"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "library_word" ADD CONSTRAINT "library_word_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "brush_word_by_name" ON "brush_word" USING btree ("workspace_id","word","sort_name","brush_id","short_text");--> statement-breakpoint
CREATE INDEX "library_word_parts" ON "library_word" USING gin ("word" gin_trgm_ops) WITH (fastupdate=false);--> statement-breakpoint
CREATE FUNCTION add_brush_words(ids uuid[]) RETURNS void LANGUAGE sql AS $$
  WITH "found" AS (
    SELECT DISTINCT b."workspace_id", w."word", lower(b."name") AS "sort_name", b."id",
      CASE WHEN octet_length(b."search_text") <= 600 THEN b."search_text" END AS "short_text" -- a row of an index is bounded
    FROM "brush" b CROSS JOIN LATERAL regexp_split_to_table(b."search_text", '\s+') AS w("word")
    WHERE b."id" = ANY (ids) AND w."word" <> ''
  ), "new_words" AS (
    INSERT INTO "library_word" ("workspace_id", "word")
    SELECT DISTINCT "workspace_id", "word" FROM "found" ORDER BY 1, 2
    ON CONFLICT DO NOTHING
  )
  INSERT INTO "brush_word" ("workspace_id", "word", "sort_name", "brush_id", "short_text") SELECT * FROM "found" ON CONFLICT DO NOTHING
$$;
--> statement-breakpoint
CREATE FUNCTION note_new_brush_words() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM add_brush_words(array_agg(n."id")) FROM new_rows n;
  RETURN NULL;
END
$$;
--> statement-breakpoint
CREATE FUNCTION note_changed_brush_words() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE changed uuid[];
BEGIN
  SELECT array_agg(n."id") INTO changed FROM new_rows n JOIN old_rows o ON o."id" = n."id"
    WHERE (o."search_text", o."name") IS DISTINCT FROM (n."search_text", n."name");
  IF changed IS NOT NULL THEN
    DELETE FROM "brush_word" WHERE "brush_id" = ANY (changed);
    PERFORM add_brush_words(changed);
  END IF;
  RETURN NULL;
END
$$;
--> statement-breakpoint
CREATE TRIGGER "brush_words_new" AFTER INSERT ON "brush"
  REFERENCING NEW TABLE AS new_rows FOR EACH STATEMENT EXECUTE FUNCTION note_new_brush_words();
--> statement-breakpoint
CREATE TRIGGER "brush_words_changed" AFTER UPDATE ON "brush"
  REFERENCING OLD TABLE AS old_rows NEW TABLE AS new_rows FOR EACH STATEMENT EXECUTE FUNCTION note_changed_brush_words();
--> statement-breakpoint
SELECT add_brush_words(array_agg("id")) FROM "brush";
