CREATE TABLE "mail" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"hand_out_id" uuid NOT NULL,
	"kind" text NOT NULL,
	"act_id" uuid NOT NULL,
	"to_name" text NOT NULL,
	"to_address" text NOT NULL,
	"subject" text NOT NULL,
	"content_sealed" text NOT NULL,
	"stop_url" text NOT NULL,
	"state" text NOT NULL,
	"said" text DEFAULT '' NOT NULL,
	"tries" integer DEFAULT 0 NOT NULL,
	"next_at" timestamp with time zone DEFAULT now() NOT NULL,
	"sent_at" timestamp with time zone,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "mail_template" (
	"workspace_id" uuid NOT NULL,
	"kind" text NOT NULL,
	"subject" text NOT NULL,
	"body" text NOT NULL,
	CONSTRAINT "mail_template_workspace_id_kind_pk" PRIMARY KEY("workspace_id","kind")
);
--> statement-breakpoint
ALTER TABLE "recipient" ADD COLUMN "no_mail_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "mail" ADD CONSTRAINT "mail_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "mail" ADD CONSTRAINT "mail_hand_out_id_hand_out_id_fk" FOREIGN KEY ("hand_out_id") REFERENCES "public"."hand_out"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "mail_template" ADD CONSTRAINT "mail_template_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "mail_act" ON "mail" USING btree ("hand_out_id","act_id");--> statement-breakpoint
CREATE INDEX "mail_due" ON "mail" USING btree ("state","next_at");--> statement-breakpoint
CREATE INDEX "mail_hand_out" ON "mail" USING btree ("hand_out_id","created_at");