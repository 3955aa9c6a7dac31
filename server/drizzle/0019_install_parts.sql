ALTER TABLE "install" ADD COLUMN "grains" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "install" ADD COLUMN "written_count" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "install_file" ADD COLUMN "made_of" text DEFAULT '' NOT NULL;