CREATE TABLE "folder_place" (
	"workspace_id" uuid NOT NULL,
	"stand_in" text NOT NULL,
	"path" text NOT NULL,
	"theirs" text[] NOT NULL,
	"claim_installs" uuid[] NOT NULL,
	"claim_shas" text[] NOT NULL,
	CONSTRAINT "folder_place_workspace_id_stand_in_path_pk" PRIMARY KEY("workspace_id","stand_in","path")
);
--> statement-breakpoint
ALTER TABLE "folder_place" ADD CONSTRAINT "folder_place_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
-- what each install had replaced becomes what is remembered of each path: of the person what no install has brought there,
-- and the installs in the order in which they came, the one whose bytes lie there last
INSERT INTO "folder_place" ("workspace_id", "stand_in", "path", "theirs", "claim_installs", "claim_shas")
SELECT f."workspace_id", i."stand_in", f."path",
	coalesce(array_agg(DISTINCT t."theirs") FILTER (WHERE t."theirs" IS NOT NULL), '{}'),
	array_agg(f."install_id" ORDER BY (f."blob_sha" = s."blob_sha") NULLS FIRST, i."created_at", i."id"),
	array_agg(f."blob_sha" ORDER BY (f."blob_sha" = s."blob_sha") NULLS FIRST, i."created_at", i."id")
FROM "install_file" f
JOIN "install" i ON i."id" = f."install_id"
LEFT JOIN "stand_in_file" s ON s."workspace_id" = f."workspace_id" AND s."stand_in" = i."stand_in" AND s."path" = f."path"
CROSS JOIN LATERAL (
	SELECT CASE
		WHEN f."was_there" THEN f."blob_sha"
		WHEN EXISTS (
			SELECT 1 FROM "install_file" g JOIN "install" j ON j."id" = g."install_id"
			WHERE j."workspace_id" = i."workspace_id" AND j."stand_in" = i."stand_in" AND j."state" = 'in'
				AND g."path" = f."path" AND g."install_id" <> f."install_id" AND g."blob_sha" = f."replaced_sha"
		) THEN NULL
		ELSE f."replaced_sha"
	END AS "theirs"
) t
WHERE i."state" = 'in' AND i."stand_in" IS NOT NULL
GROUP BY f."workspace_id", i."stand_in", f."path";--> statement-breakpoint
ALTER TABLE "install_file" DROP COLUMN "replaced_sha";--> statement-breakpoint
ALTER TABLE "install_file" DROP COLUMN "replaced_bytes";--> statement-breakpoint
ALTER TABLE "install_file" DROP COLUMN "was_there";