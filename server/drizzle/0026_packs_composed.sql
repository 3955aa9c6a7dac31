CREATE TABLE "brush_figures" (
	"brush_id" uuid PRIMARY KEY NOT NULL,
	"workspace_id" uuid NOT NULL,
	"key" text NOT NULL,
	"figures" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "let_pass" (
	"workspace_id" uuid NOT NULL,
	"pack_id" uuid NOT NULL,
	"finding" text NOT NULL,
	"reason" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "let_pass_pack_id_finding_pk" PRIMARY KEY("pack_id","finding")
);
--> statement-breakpoint
CREATE TABLE "pack_brush" (
	"workspace_id" uuid NOT NULL,
	"pack_id" uuid NOT NULL,
	"brush_id" uuid NOT NULL,
	"ordinal" integer,
	"note" text DEFAULT '' NOT NULL,
	"looked" integer,
	CONSTRAINT "pack_brush_pack_id_brush_id_pk" PRIMARY KEY("pack_id","brush_id")
);
--> statement-breakpoint
CREATE TABLE "signing_key" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"public_key" text NOT NULL,
	"sealed" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"retired_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "pack" ADD COLUMN "destination_ids" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "pack" ADD COLUMN "least_likeness" integer DEFAULT 70 NOT NULL;--> statement-breakpoint
ALTER TABLE "release" ADD COLUMN "destinations" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "release" ADD COLUMN "let_pass" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "release" ADD COLUMN "recalled_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "release" ADD COLUMN "recall_reason" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "brush_figures" ADD CONSTRAINT "brush_figures_brush_id_brush_id_fk" FOREIGN KEY ("brush_id") REFERENCES "public"."brush"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "brush_figures" ADD CONSTRAINT "brush_figures_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "let_pass" ADD CONSTRAINT "let_pass_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "let_pass" ADD CONSTRAINT "let_pass_pack_id_pack_id_fk" FOREIGN KEY ("pack_id") REFERENCES "public"."pack"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "pack_brush" ADD CONSTRAINT "pack_brush_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "pack_brush" ADD CONSTRAINT "pack_brush_pack_id_pack_id_fk" FOREIGN KEY ("pack_id") REFERENCES "public"."pack"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "pack_brush" ADD CONSTRAINT "pack_brush_brush_id_brush_id_fk" FOREIGN KEY ("brush_id") REFERENCES "public"."brush"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "signing_key" ADD CONSTRAINT "signing_key_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "signing_key_one" ON "signing_key" USING btree ("workspace_id") WHERE "signing_key"."retired_at" is null;