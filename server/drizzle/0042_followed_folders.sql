CREATE TABLE "followed_day" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"folder_id" uuid NOT NULL,
	"day" date NOT NULL,
	"changed" integer DEFAULT 0 NOT NULL,
	"fresh" integer DEFAULT 0 NOT NULL,
	"found" integer DEFAULT 0 NOT NULL,
	"renamed" integer DEFAULT 0 NOT NULL,
	"gone" integer DEFAULT 0 NOT NULL,
	"refused" integer DEFAULT 0 NOT NULL,
	"act_id" uuid
);
--> statement-breakpoint
CREATE TABLE "followed_file" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"folder_id" uuid NOT NULL,
	"path" text NOT NULL,
	"size_bytes" bigint NOT NULL,
	"seen_sha" text NOT NULL,
	"read_sha" text,
	"gone_at" timestamp with time zone,
	"reason" text DEFAULT '' NOT NULL,
	"maybe_id" uuid
);
--> statement-breakpoint
CREATE TABLE "followed_folder" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"name" text NOT NULL,
	"by" text NOT NULL,
	"user_id" text NOT NULL,
	"zone" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"looked_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "followed_part" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"file_id" uuid NOT NULL,
	"part" text NOT NULL,
	"brush_id" uuid NOT NULL,
	"pixel_key" text NOT NULL,
	"reading" text NOT NULL
);
--> statement-breakpoint
DROP INDEX "gather_one_open";--> statement-breakpoint
ALTER TABLE "gather" ADD COLUMN "folder_id" uuid;--> statement-breakpoint
ALTER TABLE "gather_file" ADD COLUMN "followed_id" uuid;--> statement-breakpoint
ALTER TABLE "followed_day" ADD CONSTRAINT "followed_day_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "followed_day" ADD CONSTRAINT "followed_day_folder_id_followed_folder_id_fk" FOREIGN KEY ("folder_id") REFERENCES "public"."followed_folder"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "followed_file" ADD CONSTRAINT "followed_file_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "followed_file" ADD CONSTRAINT "followed_file_folder_id_followed_folder_id_fk" FOREIGN KEY ("folder_id") REFERENCES "public"."followed_folder"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "followed_folder" ADD CONSTRAINT "followed_folder_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "followed_part" ADD CONSTRAINT "followed_part_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "followed_part" ADD CONSTRAINT "followed_part_file_id_followed_file_id_fk" FOREIGN KEY ("file_id") REFERENCES "public"."followed_file"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "followed_part" ADD CONSTRAINT "followed_part_brush_id_brush_id_fk" FOREIGN KEY ("brush_id") REFERENCES "public"."brush"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "followed_day_of" ON "followed_day" USING btree ("folder_id","day");--> statement-breakpoint
CREATE INDEX "followed_file_folder" ON "followed_file" USING btree ("folder_id");--> statement-breakpoint
CREATE UNIQUE INDEX "followed_file_path" ON "followed_file" USING btree ("folder_id","path") WHERE "followed_file"."gone_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "followed_folder_name" ON "followed_folder" USING btree ("workspace_id","user_id","by","name");--> statement-breakpoint
CREATE UNIQUE INDEX "followed_part_place" ON "followed_part" USING btree ("file_id","part");--> statement-breakpoint
CREATE INDEX "followed_part_brush" ON "followed_part" USING btree ("brush_id");--> statement-breakpoint
ALTER TABLE "gather" ADD CONSTRAINT "gather_folder_id_followed_folder_id_fk" FOREIGN KEY ("folder_id") REFERENCES "public"."followed_folder"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "gather_file" ADD CONSTRAINT "gather_file_followed_id_followed_file_id_fk" FOREIGN KEY ("followed_id") REFERENCES "public"."followed_file"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "gather_one_followed" ON "gather" USING btree ("folder_id") WHERE "gather"."state" = 'open';--> statement-breakpoint
CREATE INDEX "gather_file_followed" ON "gather_file" USING btree ("followed_id") WHERE "gather_file"."followed_id" is not null;--> statement-breakpoint
CREATE UNIQUE INDEX "gather_one_open" ON "gather" USING btree ("workspace_id") WHERE "gather"."state" = 'open' and "gather"."folder_id" is null;