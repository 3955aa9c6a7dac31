DROP INDEX "followed_folder_name";--> statement-breakpoint
ALTER TABLE "followed_folder" ADD COLUMN "place" text DEFAULT gen_random_uuid()::text NOT NULL;--> statement-breakpoint
CREATE UNIQUE INDEX "followed_folder_place" ON "followed_folder" USING btree ("workspace_id","user_id","by","place");