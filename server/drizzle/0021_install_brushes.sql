CREATE TABLE "install_brush" (
	"install_id" uuid NOT NULL,
	"workspace_id" uuid NOT NULL,
	"brush_id" uuid NOT NULL,
	"name" text NOT NULL,
	"score" real NOT NULL,
	"kept" jsonb NOT NULL,
	"approximated" jsonb NOT NULL,
	"left" jsonb NOT NULL,
	CONSTRAINT "install_brush_install_id_brush_id_pk" PRIMARY KEY("install_id","brush_id")
);
--> statement-breakpoint
ALTER TABLE "install" ADD COLUMN "release_id" uuid;--> statement-breakpoint
ALTER TABLE "install_brush" ADD CONSTRAINT "install_brush_install_id_install_id_fk" FOREIGN KEY ("install_id") REFERENCES "public"."install"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "install_brush" ADD CONSTRAINT "install_brush_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "install" ADD CONSTRAINT "install_release_id_release_id_fk" FOREIGN KEY ("release_id") REFERENCES "public"."release"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
-- what was measured last is the nearest to what installs from before carry
INSERT INTO "install_brush" ("install_id", "workspace_id", "brush_id", "name", "score", "kept", "approximated", "left")
SELECT DISTINCT "f"."install_id", "i"."workspace_id", "b"."id", "b"."name", "c"."score", "c"."result" -> 'kept', "c"."result" -> 'approximated', "c"."result" -> 'left'
FROM "install_file" "f"
JOIN "install" "i" ON "i"."id" = "f"."install_id"
JOIN "brush" "b" ON "b"."id" = "f"."brush_id" AND "b"."workspace_id" = "i"."workspace_id"
JOIN "fit_cell" "c" ON "c"."brush_id" = "b"."id" AND "c"."destination_id" = "i"."destination_id" AND "c"."score" >= 0
ON CONFLICT DO NOTHING;
