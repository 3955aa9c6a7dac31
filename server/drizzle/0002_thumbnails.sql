CREATE INDEX "version_tip" ON "brush_version" USING btree ("workspace_id",("snapshot" ->> 'tipId'));--> statement-breakpoint
CREATE INDEX "version_thumbnail" ON "brush_version" USING btree ("workspace_id",("snapshot" -> 'thumbnail' ->> 'blobSha')) WHERE "brush_version"."snapshot" -> 'thumbnail' ->> 'blobSha' is not null;--> statement-breakpoint
-- A version says which tip and which thumbnail it has; until now each brush had one tip for ever, and its stroke.
UPDATE "brush_version" SET "snapshot" = "snapshot" || jsonb_build_object('tipId', "brush"."tip_id", 'thumbnail', jsonb_build_object('from', 'stroke'))
  FROM "brush" WHERE "brush"."id" = "brush_version"."brush_id" AND NOT "brush_version"."snapshot" ? 'tipId';--> statement-breakpoint
-- Packs of version 3 say what each thumbnail is made from; see manifest.ts.
UPDATE "release" SET "manifest" = "manifest" || jsonb_build_object('version', 3, 'brushes',
  (SELECT coalesce(jsonb_agg(b || jsonb_build_object('thumbnail', jsonb_build_object('from', 'stroke')) ORDER BY n), '[]'::jsonb) FROM jsonb_array_elements("manifest" -> 'brushes') WITH ORDINALITY AS each(b, n)))
  WHERE "manifest" ->> 'version' = '2';
