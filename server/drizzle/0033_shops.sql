CREATE TABLE "purchase" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"shop_id" uuid NOT NULL,
	"order_name" text NOT NULL,
	"product" text,
	"buyer_name" text,
	"buyer_email" text,
	"paid_at" timestamp with time zone,
	"refunded_at" timestamp with time zone,
	"hand_out_id" uuid,
	"pack_id" uuid,
	"told_of" timestamp with time zone,
	"taken_back_at" timestamp with time zone,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "shop" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"name" text COLLATE "natural_order" NOT NULL,
	"secret_sealed" text NOT NULL,
	"heard_at" timestamp with time zone,
	"closed_at" timestamp with time zone,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "shop_product" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"shop_id" uuid NOT NULL,
	"code" text NOT NULL,
	"pack_id" uuid NOT NULL,
	"edition_id" uuid,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "delivery" ADD COLUMN "etag" text;--> statement-breakpoint
ALTER TABLE "edition" ADD COLUMN "ends_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "purchase" ADD CONSTRAINT "purchase_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "purchase" ADD CONSTRAINT "purchase_shop_id_shop_id_fk" FOREIGN KEY ("shop_id") REFERENCES "public"."shop"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "purchase" ADD CONSTRAINT "purchase_hand_out_id_hand_out_id_fk" FOREIGN KEY ("hand_out_id") REFERENCES "public"."hand_out"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "purchase" ADD CONSTRAINT "purchase_pack_id_pack_id_fk" FOREIGN KEY ("pack_id") REFERENCES "public"."pack"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "shop" ADD CONSTRAINT "shop_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "shop_product" ADD CONSTRAINT "shop_product_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "shop_product" ADD CONSTRAINT "shop_product_shop_id_shop_id_fk" FOREIGN KEY ("shop_id") REFERENCES "public"."shop"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "shop_product" ADD CONSTRAINT "shop_product_pack_id_pack_id_fk" FOREIGN KEY ("pack_id") REFERENCES "public"."pack"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "shop_product" ADD CONSTRAINT "shop_product_edition_id_edition_id_fk" FOREIGN KEY ("edition_id") REFERENCES "public"."edition"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "purchase_order" ON "purchase" USING btree ("shop_id","order_name");--> statement-breakpoint
CREATE INDEX "purchase_hand_out" ON "purchase" USING btree ("hand_out_id");--> statement-breakpoint
CREATE INDEX "purchase_listed" ON "purchase" USING btree ("workspace_id","created_at");--> statement-breakpoint
CREATE INDEX "purchase_to_give" ON "purchase" USING btree ("paid_at") WHERE hand_out_id is null and paid_at is not null and refunded_at is null;--> statement-breakpoint
CREATE INDEX "purchase_to_take" ON "purchase" USING btree ("refunded_at") WHERE refunded_at is not null and taken_back_at is null;--> statement-breakpoint
CREATE INDEX "purchase_to_tell" ON "purchase" USING btree ("pack_id","told_of");--> statement-breakpoint
CREATE UNIQUE INDEX "shop_product_code" ON "shop_product" USING btree ("shop_id","code");--> statement-breakpoint
UPDATE "edition" SET "ends_at" = (("plan"->'kit'->>'lastDay')::date + 1)::timestamp AT TIME ZONE ("plan"->'kit'->>'zone')
WHERE "plan"->'kit'->>'lastDay' IS NOT NULL AND "plan"->'kit'->>'zone' IN (SELECT "name" FROM pg_timezone_names);
