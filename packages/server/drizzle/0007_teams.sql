CREATE TABLE "team" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"revision" integer NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "team_step" (
	"team_id" uuid NOT NULL,
	"revision" integer NOT NULL,
	"document" jsonb NOT NULL,
	"given" jsonb NOT NULL,
	"person" text NOT NULL,
	"label" text NOT NULL,
	"undoes" integer,
	"redoes" integer,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "team_step_team_id_revision_pk" PRIMARY KEY("team_id","revision")
);
--> statement-breakpoint
ALTER TABLE "team_step" ADD CONSTRAINT "team_step_team_id_team_id_fk" FOREIGN KEY ("team_id") REFERENCES "public"."team"("id") ON DELETE cascade ON UPDATE no action;