CREATE TABLE "intake" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"name" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "intake_file" (
	"intake_id" uuid NOT NULL,
	"name" text NOT NULL,
	"order" bigserial NOT NULL,
	"blob" text NOT NULL,
	"bytes" integer NOT NULL,
	"state" text NOT NULL,
	"progress" real DEFAULT 0 NOT NULL,
	"understood" json,
	"preview" text,
	"difference" text,
	"error" text,
	CONSTRAINT "intake_file_intake_id_name_pk" PRIMARY KEY("intake_id","name")
);
--> statement-breakpoint
ALTER TABLE "intake_file" ADD CONSTRAINT "intake_file_intake_id_intake_id_fk" FOREIGN KEY ("intake_id") REFERENCES "public"."intake"("id") ON DELETE cascade ON UPDATE no action;