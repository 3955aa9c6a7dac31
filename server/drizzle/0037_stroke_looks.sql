CREATE TABLE "stroke_look" (
	"workspace_id" uuid NOT NULL,
	"brush_id" uuid PRIMARY KEY NOT NULL,
	"version" integer DEFAULT 0 NOT NULL,
	"rules" text DEFAULT '' NOT NULL,
	"darkness" real DEFAULT 'infinity' NOT NULL,
	"width_px" real DEFAULT 'infinity' NOT NULL,
	"roughness" real DEFAULT 'infinity' NOT NULL,
	"uses" text[] DEFAULT '{}' NOT NULL,
	"signature" "bytea"
);
--> statement-breakpoint
ALTER TABLE "stroke_look" ADD CONSTRAINT "stroke_look_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stroke_look" ADD CONSTRAINT "stroke_look_brush_id_brush_id_fk" FOREIGN KEY ("brush_id") REFERENCES "public"."brush"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "stroke_look_darkness" ON "stroke_look" USING btree ("workspace_id","darkness","brush_id");--> statement-breakpoint
CREATE INDEX "stroke_look_width" ON "stroke_look" USING btree ("workspace_id","width_px","brush_id");--> statement-breakpoint
CREATE INDEX "stroke_look_roughness" ON "stroke_look" USING btree ("workspace_id","roughness","brush_id");--> statement-breakpoint
CREATE FUNCTION note_new_stroke_looks() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO "stroke_look" ("workspace_id", "brush_id") SELECT n."workspace_id", n."id" FROM new_rows n ON CONFLICT DO NOTHING;
  RETURN NULL;
END
$$;
--> statement-breakpoint
CREATE TRIGGER "stroke_looks_new" AFTER INSERT ON "brush"
  REFERENCING NEW TABLE AS new_rows FOR EACH STATEMENT EXECUTE FUNCTION note_new_stroke_looks();
--> statement-breakpoint
INSERT INTO "stroke_look" ("workspace_id", "brush_id") SELECT "workspace_id", "id" FROM "brush";
