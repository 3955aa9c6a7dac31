ALTER TABLE "fit_choice" DROP CONSTRAINT "fit_choice_one";--> statement-breakpoint
ALTER TABLE "fit_choice" ADD COLUMN "set_id" uuid;--> statement-breakpoint
ALTER TABLE "fit_choice" ADD CONSTRAINT "fit_choice_set_id_brush_set_id_fk" FOREIGN KEY ("set_id") REFERENCES "public"."brush_set"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "fit_choice" ADD CONSTRAINT "fit_choice_one" UNIQUE NULLS NOT DISTINCT("workspace_id","destination_id","brush_id","set_id");