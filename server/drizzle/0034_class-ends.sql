ALTER TABLE "edition" ADD COLUMN "ends_at" timestamp with time zone;--> statement-breakpoint
UPDATE "edition" SET "ends_at" = (("plan"->'kit'->>'lastDay')::date + 1)::timestamp AT TIME ZONE ("plan"->'kit'->>'zone')
WHERE "plan"->'kit'->>'lastDay' IS NOT NULL AND "plan"->'kit'->>'zone' IN (SELECT "name" FROM pg_timezone_names);
