-- what is there was measured in the older way
ALTER TABLE "material" ADD COLUMN "seam_measure" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "material" ALTER COLUMN "seam_measure" SET DEFAULT 2;
