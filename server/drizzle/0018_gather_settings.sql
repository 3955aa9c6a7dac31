ALTER TABLE "gather" ADD COLUMN "mends" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "gather_line" ADD COLUMN "file_hash" text;--> statement-breakpoint
ALTER TABLE "gather_line" ADD COLUMN "settings" jsonb;--> statement-breakpoint
ALTER TABLE "gather_line" ADD COLUMN "is_part" boolean DEFAULT false NOT NULL;--> statement-breakpoint
CREATE INDEX "gather_line_settings" ON "gather_line" USING btree ("gather_id") WHERE "gather_line"."settings" is not null;