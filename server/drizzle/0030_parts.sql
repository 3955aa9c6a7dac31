CREATE TABLE "hand_out_note" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"hand_out_id" uuid NOT NULL,
	"release_id" uuid,
	"app" text NOT NULL,
	"text" text NOT NULL,
	"sent_id" uuid NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"read_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "delivery" ADD COLUMN "part" jsonb;--> statement-breakpoint
ALTER TABLE "delivery" ADD COLUMN "app" text;--> statement-breakpoint
ALTER TABLE "release" ADD COLUMN "contents_sha" text;--> statement-breakpoint
ALTER TABLE "hand_out_note" ADD CONSTRAINT "hand_out_note_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hand_out_note" ADD CONSTRAINT "hand_out_note_hand_out_id_hand_out_id_fk" FOREIGN KEY ("hand_out_id") REFERENCES "public"."hand_out"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hand_out_note" ADD CONSTRAINT "hand_out_note_release_id_release_id_fk" FOREIGN KEY ("release_id") REFERENCES "public"."release"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "hand_out_note_sent" ON "hand_out_note" USING btree ("hand_out_id","sent_id");--> statement-breakpoint
CREATE INDEX "hand_out_note_new" ON "hand_out_note" USING btree ("workspace_id","read_at");