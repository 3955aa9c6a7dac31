-- names as people order them: numbers count as numbers (Unicode Technical Standard 35, part 5, collation setting kn)
CREATE COLLATION IF NOT EXISTS "natural_order" (provider = icu, locale = 'und-u-kn-true');--> statement-breakpoint
DROP INDEX "gather_line_order";--> statement-breakpoint
ALTER TABLE "brush" ALTER COLUMN "name" SET DATA TYPE text COLLATE "natural_order";--> statement-breakpoint
ALTER TABLE "brush" ALTER COLUMN "maker" SET DATA TYPE text COLLATE "natural_order";--> statement-breakpoint
ALTER TABLE "brush" ALTER COLUMN "maker" SET DEFAULT '';--> statement-breakpoint
ALTER TABLE "brush_word" ALTER COLUMN "sort_name" SET DATA TYPE text COLLATE "natural_order";--> statement-breakpoint
ALTER TABLE "install_file" ALTER COLUMN "path" SET DATA TYPE text COLLATE "natural_order";--> statement-breakpoint
ALTER TABLE "material" ALTER COLUMN "name" SET DATA TYPE text COLLATE "natural_order";--> statement-breakpoint
ALTER TABLE "pack" ALTER COLUMN "title" SET DATA TYPE text COLLATE "natural_order";--> statement-breakpoint
ALTER TABLE "stand_in_file" ALTER COLUMN "path" SET DATA TYPE text COLLATE "natural_order";--> statement-breakpoint
CREATE INDEX "gather_line_order" ON "gather_line" USING btree ("gather_id","folder" collate "natural_order","path" collate "natural_order","ordinal","id");