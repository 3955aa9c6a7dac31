ALTER TABLE "brush_set" ADD COLUMN "note" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "brush_set" ADD COLUMN "mark" text DEFAULT '' NOT NULL;