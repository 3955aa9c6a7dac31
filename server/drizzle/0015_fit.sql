CREATE TABLE "destination" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"description" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "fit_cell" (
	"workspace_id" uuid NOT NULL,
	"brush_id" uuid NOT NULL,
	"destination_id" text NOT NULL,
	"key" text NOT NULL,
	"score" real NOT NULL,
	"left_count" integer NOT NULL,
	"result" jsonb NOT NULL,
	"measured_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "fit_cell_brush_id_destination_id_pk" PRIMARY KEY("brush_id","destination_id")
);
--> statement-breakpoint
CREATE TABLE "fit_choice" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"destination_id" text NOT NULL,
	"brush_id" uuid,
	"choices" jsonb NOT NULL,
	CONSTRAINT "fit_choice_one" UNIQUE NULLS NOT DISTINCT("workspace_id","destination_id","brush_id")
);
--> statement-breakpoint
CREATE TABLE "install" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"name" text NOT NULL,
	"destination_id" text NOT NULL,
	"stand_in" text,
	"brush_ids" uuid[] NOT NULL,
	"refused" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"state" text DEFAULT 'preparing' NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "install_file" (
	"install_id" uuid NOT NULL,
	"workspace_id" uuid NOT NULL,
	"brush_id" uuid NOT NULL,
	"path" text NOT NULL,
	"blob_sha" text NOT NULL,
	"size_bytes" integer NOT NULL,
	"replaced_sha" text,
	"replaced_bytes" integer,
	"was_there" boolean DEFAULT false NOT NULL,
	CONSTRAINT "install_file_install_id_path_pk" PRIMARY KEY("install_id","path")
);
--> statement-breakpoint
CREATE TABLE "stand_in_file" (
	"workspace_id" uuid NOT NULL,
	"stand_in" text NOT NULL,
	"path" text NOT NULL,
	"blob_sha" text NOT NULL,
	"size_bytes" integer NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "stand_in_file_workspace_id_stand_in_path_pk" PRIMARY KEY("workspace_id","stand_in","path")
);
--> statement-breakpoint
ALTER TABLE "destination" ADD CONSTRAINT "destination_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "fit_cell" ADD CONSTRAINT "fit_cell_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "fit_cell" ADD CONSTRAINT "fit_cell_brush_id_brush_id_fk" FOREIGN KEY ("brush_id") REFERENCES "public"."brush"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "fit_choice" ADD CONSTRAINT "fit_choice_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "fit_choice" ADD CONSTRAINT "fit_choice_brush_id_brush_id_fk" FOREIGN KEY ("brush_id") REFERENCES "public"."brush"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "install" ADD CONSTRAINT "install_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "install_file" ADD CONSTRAINT "install_file_install_id_install_id_fk" FOREIGN KEY ("install_id") REFERENCES "public"."install"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "install_file" ADD CONSTRAINT "install_file_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stand_in_file" ADD CONSTRAINT "stand_in_file_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "destination_workspace" ON "destination" USING btree ("workspace_id");--> statement-breakpoint
CREATE INDEX "fit_cell_score" ON "fit_cell" USING btree ("workspace_id","destination_id","score");--> statement-breakpoint
CREATE INDEX "install_workspace" ON "install" USING btree ("workspace_id","created_at");