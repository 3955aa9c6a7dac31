CREATE TABLE "mend" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"stand_in" text NOT NULL,
	"ends" integer NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "mend_file" (
	"mend_id" uuid NOT NULL,
	"workspace_id" uuid NOT NULL,
	"path" text NOT NULL,
	"before_sha" text,
	"before_bytes" integer,
	"after_sha" text NOT NULL,
	CONSTRAINT "mend_file_mend_id_path_pk" PRIMARY KEY("mend_id","path")
);
--> statement-breakpoint
ALTER TABLE "mend" ADD CONSTRAINT "mend_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "mend_file" ADD CONSTRAINT "mend_file_mend_id_mend_id_fk" FOREIGN KEY ("mend_id") REFERENCES "public"."mend"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "mend_file" ADD CONSTRAINT "mend_file_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "mend_workspace" ON "mend" USING btree ("workspace_id","created_at");