ALTER TABLE "delivery" ADD COLUMN "state" text DEFAULT 'sent' NOT NULL;--> statement-breakpoint
ALTER TABLE "destination" ADD COLUMN "version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "job" ADD COLUMN "lost" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "job" ADD COLUMN "asked_by" text;--> statement-breakpoint
CREATE INDEX "job_waiting" ON "job" USING btree ("state","workspace_id","created_at") WHERE "job"."state" in ('queued', 'running');--> statement-breakpoint
CREATE INDEX "job_subject" ON "job" USING btree ("kind","subject_id","created_at");--> statement-breakpoint
-- what the queue package kept; jobs are rows of our own alone
DROP SCHEMA IF EXISTS "pgboss" CASCADE;