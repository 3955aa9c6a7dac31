ALTER TABLE "workspace" ADD COLUMN "maker" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "workspace" ADD COLUMN "licence" text DEFAULT '' NOT NULL;