ALTER TABLE "pack" ADD COLUMN "cover" jsonb;--> statement-breakpoint
ALTER TABLE "pack" ADD COLUMN "cover_sha" text;--> statement-breakpoint
ALTER TABLE "release" ADD COLUMN "cover_sha" text;