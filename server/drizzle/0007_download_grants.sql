ALTER TABLE "delivery" ADD COLUMN "grant_hash" text;--> statement-breakpoint
CREATE UNIQUE INDEX "delivery_grant" ON "delivery" USING btree ("grant_hash");