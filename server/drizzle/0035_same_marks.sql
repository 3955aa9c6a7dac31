CREATE TABLE "compared_mark" (
	"workspace_id" uuid NOT NULL,
	"mark" text NOT NULL,
	"original" text,
	"differs" jsonb,
	"is_seen" boolean DEFAULT false NOT NULL,
	CONSTRAINT "compared_mark_workspace_id_mark_pk" PRIMARY KEY("workspace_id","mark")
);
--> statement-breakpoint
CREATE TABLE "kept_both" (
	"workspace_id" uuid NOT NULL,
	"brush_id" uuid NOT NULL,
	"root" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "kept_both_brush_id_root_pk" PRIMARY KEY("brush_id","root")
);
--> statement-breakpoint
CREATE TABLE "library_act" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"said" text NOT NULL,
	"done" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"undone_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "marks_apart" (
	"workspace_id" uuid NOT NULL,
	"mark" text NOT NULL,
	"original" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "marks_apart_workspace_id_mark_original_pk" PRIMARY KEY("workspace_id","mark","original")
);
--> statement-breakpoint
ALTER TABLE "compared_mark" ADD CONSTRAINT "compared_mark_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "kept_both" ADD CONSTRAINT "kept_both_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "kept_both" ADD CONSTRAINT "kept_both_brush_id_brush_id_fk" FOREIGN KEY ("brush_id") REFERENCES "public"."brush"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "library_act" ADD CONSTRAINT "library_act_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "marks_apart" ADD CONSTRAINT "marks_apart_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "compared_mark_original" ON "compared_mark" USING btree ("workspace_id","original");--> statement-breakpoint
CREATE INDEX "library_act_newest" ON "library_act" USING btree ("workspace_id","created_at");