CREATE EXTENSION IF NOT EXISTS pg_trgm;--> statement-breakpoint
CREATE TABLE "account" (
	"id" text PRIMARY KEY NOT NULL,
	"account_id" text NOT NULL,
	"provider_id" text NOT NULL,
	"user_id" text NOT NULL,
	"access_token" text,
	"refresh_token" text,
	"id_token" text,
	"access_token_expires_at" timestamp,
	"refresh_token_expires_at" timestamp,
	"scope" text,
	"password" text,
	"created_at" timestamp DEFAULT now() NOT NULL,
	"updated_at" timestamp DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "blob" (
	"workspace_id" uuid NOT NULL,
	"sha256" text NOT NULL,
	"size_bytes" bigint NOT NULL,
	"media_type" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "blob_workspace_id_sha256_pk" PRIMARY KEY("workspace_id","sha256")
);
--> statement-breakpoint
CREATE TABLE "blob_piece" (
	"workspace_id" uuid NOT NULL,
	"sha256" text NOT NULL,
	"ordinal" integer NOT NULL,
	"bytes" "bytea" NOT NULL,
	CONSTRAINT "blob_piece_workspace_id_sha256_ordinal_pk" PRIMARY KEY("workspace_id","sha256","ordinal")
);
--> statement-breakpoint
CREATE TABLE "brush" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"name" text NOT NULL,
	"maker" text DEFAULT '' NOT NULL,
	"licence" text DEFAULT '' NOT NULL,
	"tags" text[] DEFAULT '{}' NOT NULL,
	"tip_id" uuid NOT NULL,
	"reading" text NOT NULL,
	"behaviour" text NOT NULL,
	"size_px" real NOT NULL,
	"frames" integer NOT NULL,
	"search_text" text NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "brush_set" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"name" text NOT NULL,
	"position" text NOT NULL,
	"hidden" boolean DEFAULT false NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "brush_version" (
	"workspace_id" uuid NOT NULL,
	"brush_id" uuid NOT NULL,
	"ordinal" integer NOT NULL,
	"snapshot" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "brush_version_brush_id_ordinal_pk" PRIMARY KEY("brush_id","ordinal")
);
--> statement-breakpoint
CREATE TABLE "delivery" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"hand_out_id" uuid NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "gather" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"state" text DEFAULT 'open' NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ended_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "gather_file" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"gather_id" uuid NOT NULL,
	"path" text NOT NULL,
	"size_bytes" bigint NOT NULL,
	"blob_sha" text NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "gather_line" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"gather_id" uuid NOT NULL,
	"file_id" uuid NOT NULL,
	"ordinal" integer NOT NULL,
	"folder" text NOT NULL,
	"path" text NOT NULL,
	"name" text NOT NULL,
	"kind" text NOT NULL,
	"outcome" text NOT NULL,
	"decided" boolean DEFAULT false NOT NULL,
	"reason" text DEFAULT '' NOT NULL,
	"width" integer,
	"height" integer,
	"frames" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"full_frames" jsonb,
	"brush" jsonb,
	"set_name" text DEFAULT '' NOT NULL,
	"pixel_key" text,
	"near_bits" text,
	"near_signature" "bytea",
	"duplicate" jsonb
);
--> statement-breakpoint
CREATE TABLE "hand_out" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"release_id" uuid NOT NULL,
	"name" text NOT NULL,
	"token_hash" text NOT NULL,
	"ends_at" timestamp with time zone,
	"download_limit" integer,
	"downloads" integer DEFAULT 0 NOT NULL,
	"withdrawn_at" timestamp with time zone,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "hand_out_tokenHash_unique" UNIQUE("token_hash")
);
--> statement-breakpoint
CREATE TABLE "job" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"kind" text NOT NULL,
	"subject_id" uuid NOT NULL,
	"title" text NOT NULL,
	"payload" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"state" text DEFAULT 'queued' NOT NULL,
	"done" integer DEFAULT 0 NOT NULL,
	"total" integer DEFAULT 0 NOT NULL,
	"error" text,
	"stop_asked_at" timestamp with time zone,
	"heartbeat_at" timestamp with time zone,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"started_at" timestamp with time zone,
	"ended_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "member" (
	"workspace_id" uuid NOT NULL,
	"user_id" text NOT NULL,
	"role" text NOT NULL,
	CONSTRAINT "member_workspace_id_user_id_pk" PRIMARY KEY("workspace_id","user_id")
);
--> statement-breakpoint
CREATE TABLE "pack" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"title" text NOT NULL,
	"maker" text DEFAULT '' NOT NULL,
	"licence" text DEFAULT '' NOT NULL,
	"licence_text" text DEFAULT '' NOT NULL,
	"help" text DEFAULT '' NOT NULL,
	"cover_brush_id" uuid,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "pack_set" (
	"workspace_id" uuid NOT NULL,
	"pack_id" uuid NOT NULL,
	"set_id" uuid NOT NULL,
	"ordinal" integer NOT NULL,
	CONSTRAINT "pack_set_pack_id_set_id_pk" PRIMARY KEY("pack_id","set_id")
);
--> statement-breakpoint
CREATE TABLE "rate_limit" (
	"id" text PRIMARY KEY NOT NULL,
	"key" text NOT NULL,
	"count" integer NOT NULL,
	"last_request" bigint NOT NULL,
	CONSTRAINT "rate_limit_key_unique" UNIQUE("key")
);
--> statement-breakpoint
CREATE TABLE "release" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"pack_id" uuid NOT NULL,
	"version" text NOT NULL,
	"notes" text DEFAULT '' NOT NULL,
	"manifest" jsonb NOT NULL,
	"brushes" jsonb NOT NULL,
	"licence_text" text NOT NULL,
	"cover_brush_id" text,
	"state" text NOT NULL,
	"zip_sha" text,
	"zip_bytes" bigint,
	"zip_files" integer,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "session" (
	"id" text PRIMARY KEY NOT NULL,
	"expires_at" timestamp NOT NULL,
	"token" text NOT NULL,
	"created_at" timestamp DEFAULT now() NOT NULL,
	"updated_at" timestamp DEFAULT now() NOT NULL,
	"ip_address" text,
	"user_agent" text,
	"user_id" text NOT NULL,
	CONSTRAINT "session_token_unique" UNIQUE("token")
);
--> statement-breakpoint
CREATE TABLE "set_item" (
	"workspace_id" uuid NOT NULL,
	"set_id" uuid NOT NULL,
	"brush_id" uuid NOT NULL,
	"position" text NOT NULL,
	CONSTRAINT "set_item_set_id_brush_id_pk" PRIMARY KEY("set_id","brush_id")
);
--> statement-breakpoint
CREATE TABLE "tip" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"pixel_key" text NOT NULL,
	"near_bits" text,
	"near_signature" "bytea",
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "tip_frame" (
	"workspace_id" uuid NOT NULL,
	"tip_id" uuid NOT NULL,
	"ordinal" integer NOT NULL,
	"blob_sha" text NOT NULL,
	"pixel_sha" text NOT NULL,
	"width" integer NOT NULL,
	"height" integer NOT NULL,
	CONSTRAINT "tip_frame_tip_id_ordinal_pk" PRIMARY KEY("tip_id","ordinal")
);
--> statement-breakpoint
CREATE TABLE "user" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"email" text NOT NULL,
	"email_verified" boolean DEFAULT false NOT NULL,
	"image" text,
	"created_at" timestamp DEFAULT now() NOT NULL,
	"updated_at" timestamp DEFAULT now() NOT NULL,
	CONSTRAINT "user_email_unique" UNIQUE("email")
);
--> statement-breakpoint
CREATE TABLE "verification" (
	"id" text PRIMARY KEY NOT NULL,
	"identifier" text NOT NULL,
	"value" text NOT NULL,
	"expires_at" timestamp NOT NULL,
	"created_at" timestamp DEFAULT now() NOT NULL,
	"updated_at" timestamp DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "workspace" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"name" text NOT NULL,
	"created_at" timestamp DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "account" ADD CONSTRAINT "account_user_id_user_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."user"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "blob" ADD CONSTRAINT "blob_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "blob_piece" ADD CONSTRAINT "blob_piece_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "brush" ADD CONSTRAINT "brush_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "brush" ADD CONSTRAINT "brush_tip_id_tip_id_fk" FOREIGN KEY ("tip_id") REFERENCES "public"."tip"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "brush_set" ADD CONSTRAINT "brush_set_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "brush_version" ADD CONSTRAINT "brush_version_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "brush_version" ADD CONSTRAINT "brush_version_brush_id_brush_id_fk" FOREIGN KEY ("brush_id") REFERENCES "public"."brush"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "delivery" ADD CONSTRAINT "delivery_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "delivery" ADD CONSTRAINT "delivery_hand_out_id_hand_out_id_fk" FOREIGN KEY ("hand_out_id") REFERENCES "public"."hand_out"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "gather" ADD CONSTRAINT "gather_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "gather_file" ADD CONSTRAINT "gather_file_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "gather_file" ADD CONSTRAINT "gather_file_gather_id_gather_id_fk" FOREIGN KEY ("gather_id") REFERENCES "public"."gather"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "gather_line" ADD CONSTRAINT "gather_line_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "gather_line" ADD CONSTRAINT "gather_line_gather_id_gather_id_fk" FOREIGN KEY ("gather_id") REFERENCES "public"."gather"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "gather_line" ADD CONSTRAINT "gather_line_file_id_gather_file_id_fk" FOREIGN KEY ("file_id") REFERENCES "public"."gather_file"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hand_out" ADD CONSTRAINT "hand_out_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hand_out" ADD CONSTRAINT "hand_out_release_id_release_id_fk" FOREIGN KEY ("release_id") REFERENCES "public"."release"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "job" ADD CONSTRAINT "job_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "member" ADD CONSTRAINT "member_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "member" ADD CONSTRAINT "member_user_id_user_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."user"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "pack" ADD CONSTRAINT "pack_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "pack" ADD CONSTRAINT "pack_cover_brush_id_brush_id_fk" FOREIGN KEY ("cover_brush_id") REFERENCES "public"."brush"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "pack_set" ADD CONSTRAINT "pack_set_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "pack_set" ADD CONSTRAINT "pack_set_pack_id_pack_id_fk" FOREIGN KEY ("pack_id") REFERENCES "public"."pack"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "pack_set" ADD CONSTRAINT "pack_set_set_id_brush_set_id_fk" FOREIGN KEY ("set_id") REFERENCES "public"."brush_set"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "release" ADD CONSTRAINT "release_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "release" ADD CONSTRAINT "release_pack_id_pack_id_fk" FOREIGN KEY ("pack_id") REFERENCES "public"."pack"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "session" ADD CONSTRAINT "session_user_id_user_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."user"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "set_item" ADD CONSTRAINT "set_item_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "set_item" ADD CONSTRAINT "set_item_set_id_brush_set_id_fk" FOREIGN KEY ("set_id") REFERENCES "public"."brush_set"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "set_item" ADD CONSTRAINT "set_item_brush_id_brush_id_fk" FOREIGN KEY ("brush_id") REFERENCES "public"."brush"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tip" ADD CONSTRAINT "tip_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tip_frame" ADD CONSTRAINT "tip_frame_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tip_frame" ADD CONSTRAINT "tip_frame_tip_id_tip_id_fk" FOREIGN KEY ("tip_id") REFERENCES "public"."tip"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "brush_by_name" ON "brush" USING btree ("workspace_id",lower("name"),"id") WHERE "brush"."deleted_at" is null;--> statement-breakpoint
CREATE INDEX "brush_search" ON "brush" USING gin ("search_text" gin_trgm_ops) WITH (fastupdate=false);--> statement-breakpoint
CREATE INDEX "brush_tags" ON "brush" USING gin ("tags");--> statement-breakpoint
CREATE INDEX "brush_tip" ON "brush" USING btree ("tip_id");--> statement-breakpoint
CREATE INDEX "brush_set_position" ON "brush_set" USING btree ("workspace_id","position");--> statement-breakpoint
CREATE INDEX "delivery_hand_out" ON "delivery" USING btree ("hand_out_id","at");--> statement-breakpoint
CREATE INDEX "gather_file_gather" ON "gather_file" USING btree ("gather_id","state");--> statement-breakpoint
CREATE INDEX "gather_line_order" ON "gather_line" USING btree ("gather_id","folder","path","ordinal");--> statement-breakpoint
CREATE INDEX "gather_line_file" ON "gather_line" USING btree ("file_id");--> statement-breakpoint
CREATE INDEX "hand_out_release" ON "hand_out" USING btree ("release_id");--> statement-breakpoint
CREATE INDEX "job_open" ON "job" USING btree ("workspace_id","state");--> statement-breakpoint
CREATE UNIQUE INDEX "job_one_open" ON "job" USING btree ("kind","subject_id") WHERE "job"."state" in ('queued', 'running');--> statement-breakpoint
CREATE UNIQUE INDEX "release_version" ON "release" USING btree ("pack_id","version");--> statement-breakpoint
CREATE INDEX "set_item_brush" ON "set_item" USING btree ("brush_id");--> statement-breakpoint
CREATE INDEX "tip_pixel_key" ON "tip" USING btree ("workspace_id","pixel_key");--> statement-breakpoint
CREATE INDEX "tip_frame_blob" ON "tip_frame" USING btree ("workspace_id","blob_sha");