CREATE TABLE "spec" (
	"key" text NOT NULL,
	"version" integer NOT NULL,
	"document" json NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "spec_key_version_pk" PRIMARY KEY("key","version")
);
--> statement-breakpoint
ALTER TABLE "delivery" ADD COLUMN "package" text;--> statement-breakpoint
ALTER TABLE "delivery" ADD COLUMN "slot" integer;--> statement-breakpoint
ALTER TABLE "delivery" ADD COLUMN "bases" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "delivery" ADD COLUMN "credits" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "delivery" ADD COLUMN "repeat" boolean DEFAULT false NOT NULL;