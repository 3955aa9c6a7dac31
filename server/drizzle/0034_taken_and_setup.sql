CREATE TABLE "setup_card" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"gather_id" uuid NOT NULL,
	"title" text NOT NULL,
	"until" timestamp with time zone,
	"hand_out_id" uuid,
	"laid" jsonb NOT NULL,
	"laid_at" timestamp with time zone DEFAULT now() NOT NULL,
	"put_back_at" timestamp with time zone,
	"put_back" jsonb,
	"is_seen" boolean DEFAULT false NOT NULL
);
--> statement-breakpoint
CREATE TABLE "taken_brush" (
	"workspace_id" uuid NOT NULL,
	"origin" uuid NOT NULL,
	"pack_id" uuid NOT NULL,
	"brush_id" uuid,
	"release" text NOT NULL,
	"signer" text DEFAULT '' NOT NULL,
	"base" jsonb NOT NULL,
	"set_by" uuid,
	"previous" jsonb,
	CONSTRAINT "taken_brush_workspace_id_origin_pk" PRIMARY KEY("workspace_id","origin")
);
--> statement-breakpoint
CREATE TABLE "taken_pack" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"key" text NOT NULL,
	"title" text NOT NULL,
	"release" text NOT NULL,
	"sets" jsonb NOT NULL,
	"taken_at" timestamp with time zone DEFAULT now() NOT NULL,
	"set_by" uuid,
	"previous" jsonb,
	CONSTRAINT "taken_pack_key" UNIQUE("workspace_id","key")
);
--> statement-breakpoint
ALTER TABLE "gather_file" ADD COLUMN "cards" jsonb;--> statement-breakpoint
ALTER TABLE "gather_file" ADD COLUMN "hand_out_id" uuid;--> statement-breakpoint
ALTER TABLE "gather_line" ADD COLUMN "origin" uuid;--> statement-breakpoint
ALTER TABLE "gather_line" ADD COLUMN "taken" jsonb;--> statement-breakpoint
ALTER TABLE "gather_line" ADD COLUMN "decision" jsonb;--> statement-breakpoint
ALTER TABLE "install" ADD COLUMN "edition_id" uuid;--> statement-breakpoint
ALTER TABLE "setup_card" ADD CONSTRAINT "setup_card_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "taken_brush" ADD CONSTRAINT "taken_brush_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "taken_brush" ADD CONSTRAINT "taken_brush_pack_id_taken_pack_id_fk" FOREIGN KEY ("pack_id") REFERENCES "public"."taken_pack"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "taken_brush" ADD CONSTRAINT "taken_brush_brush_id_brush_id_fk" FOREIGN KEY ("brush_id") REFERENCES "public"."brush"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "taken_pack" ADD CONSTRAINT "taken_pack_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "setup_card_workspace" ON "setup_card" USING btree ("workspace_id");--> statement-breakpoint
CREATE INDEX "setup_card_until" ON "setup_card" USING btree ("until");--> statement-breakpoint
CREATE INDEX "taken_brush_brush" ON "taken_brush" USING btree ("brush_id");--> statement-breakpoint
CREATE INDEX "taken_brush_pack" ON "taken_brush" USING btree ("pack_id");--> statement-breakpoint
ALTER TABLE "install" ADD CONSTRAINT "install_edition_id_edition_id_fk" FOREIGN KEY ("edition_id") REFERENCES "public"."edition"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "gather_line_origin" ON "gather_line" USING btree ("gather_id","origin") WHERE "gather_line"."origin" is not null;