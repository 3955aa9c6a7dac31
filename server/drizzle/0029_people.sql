CREATE TABLE "recipient" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"key" text NOT NULL,
	"name" text COLLATE "natural_order" NOT NULL,
	"email" text DEFAULT '' NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "delivery" ADD COLUMN "release_id" uuid;--> statement-breakpoint
ALTER TABLE "hand_out" ADD COLUMN "recipient_id" uuid;--> statement-breakpoint
ALTER TABLE "hand_out" ADD COLUMN "token_sealed" text;--> statement-breakpoint
ALTER TABLE "hand_out" ADD COLUMN "follows" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "hand_out" ADD COLUMN "batch_id" uuid;--> statement-breakpoint
ALTER TABLE "recipient" ADD CONSTRAINT "recipient_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "recipient_key" ON "recipient" USING btree ("workspace_id","key");--> statement-breakpoint
ALTER TABLE "delivery" ADD CONSTRAINT "delivery_release_id_release_id_fk" FOREIGN KEY ("release_id") REFERENCES "public"."release"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hand_out" ADD CONSTRAINT "hand_out_recipient_id_recipient_id_fk" FOREIGN KEY ("recipient_id") REFERENCES "public"."recipient"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "delivery_release" ON "delivery" USING btree ("release_id");--> statement-breakpoint
CREATE INDEX "hand_out_recipient" ON "hand_out" USING btree ("recipient_id");--> statement-breakpoint
CREATE UNIQUE INDEX "hand_out_batch" ON "hand_out" USING btree ("batch_id","recipient_id");--> statement-breakpoint
UPDATE "delivery" SET "release_id" = (SELECT h."release_id" FROM "hand_out" h WHERE h."id" = "delivery"."hand_out_id");
