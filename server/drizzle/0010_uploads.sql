CREATE TABLE "upload" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"workspace_id" uuid NOT NULL,
	"gather_id" uuid NOT NULL,
	"path" text NOT NULL,
	"size_bytes" bigint NOT NULL,
	"modified_ms" bigint NOT NULL,
	"received_bytes" bigint DEFAULT 0 NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "upload_piece" (
	"workspace_id" uuid NOT NULL,
	"upload_id" uuid NOT NULL,
	"at_byte" bigint NOT NULL,
	"bytes" "bytea" NOT NULL,
	CONSTRAINT "upload_piece_upload_id_at_byte_pk" PRIMARY KEY("upload_id","at_byte")
);
--> statement-breakpoint
ALTER TABLE "upload" ADD CONSTRAINT "upload_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "upload" ADD CONSTRAINT "upload_gather_id_gather_id_fk" FOREIGN KEY ("gather_id") REFERENCES "public"."gather"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "upload_piece" ADD CONSTRAINT "upload_piece_workspace_id_workspace_id_fk" FOREIGN KEY ("workspace_id") REFERENCES "public"."workspace"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "upload_piece" ADD CONSTRAINT "upload_piece_upload_id_upload_id_fk" FOREIGN KEY ("upload_id") REFERENCES "public"."upload"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "upload_gather" ON "upload" USING btree ("gather_id");