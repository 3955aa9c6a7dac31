CREATE TABLE "edition" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"pack_id" uuid NOT NULL,
	"name" text COLLATE "natural_order" NOT NULL,
	"plan" jsonb NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"prepare_at" timestamp with time zone,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "edition_build" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"edition_id" uuid NOT NULL,
	"release_id" uuid NOT NULL,
	"key" text NOT NULL,
	"cut" jsonb NOT NULL,
	"state" text NOT NULL,
	"zip_sha" text,
	"zip_bytes" bigint,
	"zip_files" integer,
	"contents_sha" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "delivery" ADD COLUMN "build_id" uuid;--> statement-breakpoint
ALTER TABLE "hand_out" ADD COLUMN "edition_id" uuid;--> statement-breakpoint
ALTER TABLE "release" ADD COLUMN "cover_brush_ids" text[];--> statement-breakpoint
ALTER TABLE "edition" ADD CONSTRAINT "edition_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "edition" ADD CONSTRAINT "edition_pack_id_pack_id_fk" FOREIGN KEY ("pack_id") REFERENCES "public"."pack"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "edition_build" ADD CONSTRAINT "edition_build_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "edition_build" ADD CONSTRAINT "edition_build_edition_id_edition_id_fk" FOREIGN KEY ("edition_id") REFERENCES "public"."edition"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "edition_build" ADD CONSTRAINT "edition_build_release_id_release_id_fk" FOREIGN KEY ("release_id") REFERENCES "public"."release"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "edition_pack" ON "edition" USING btree ("pack_id");--> statement-breakpoint
CREATE INDEX "edition_prepare" ON "edition" USING btree ("prepare_at");--> statement-breakpoint
CREATE UNIQUE INDEX "edition_build_key" ON "edition_build" USING btree ("edition_id","key");--> statement-breakpoint
ALTER TABLE "delivery" ADD CONSTRAINT "delivery_build_id_edition_build_id_fk" FOREIGN KEY ("build_id") REFERENCES "public"."edition_build"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hand_out" ADD CONSTRAINT "hand_out_edition_id_edition_id_fk" FOREIGN KEY ("edition_id") REFERENCES "public"."edition"("id") ON DELETE no action ON UPDATE no action;