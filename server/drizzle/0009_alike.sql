DROP INDEX "gather_line_order";--> statement-breakpoint
ALTER TABLE "gather_line" ADD COLUMN "alike_key" "bytea";--> statement-breakpoint
ALTER TABLE "gather_line" ADD COLUMN "alike_mark" "bytea";--> statement-breakpoint
ALTER TABLE "tip" ADD COLUMN "alike_key" "bytea";--> statement-breakpoint
ALTER TABLE "tip" ADD COLUMN "alike_mark" "bytea";--> statement-breakpoint
CREATE INDEX "gather_line_order" ON "gather_line" USING btree ("gather_id","folder" collate "C","path" collate "C","ordinal","id");--> statement-breakpoint
ALTER TABLE "gather_line" DROP COLUMN "near_bits";--> statement-breakpoint
ALTER TABLE "gather_line" DROP COLUMN "near_signature";--> statement-breakpoint
ALTER TABLE "tip" DROP COLUMN "near_bits";--> statement-breakpoint
ALTER TABLE "tip" DROP COLUMN "near_signature";--> statement-breakpoint
-- What looked alike was found in another way: open ledgers are compared anew with their next file.
UPDATE "gather_line" SET "duplicate" = NULL WHERE "duplicate" ->> 'how' = 'near';
