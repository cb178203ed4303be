CREATE TABLE "note" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"livery_id" uuid NOT NULL,
	"number" integer NOT NULL,
	"place" jsonb NOT NULL,
	"person" text NOT NULL,
	"text" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"done_by" text,
	"done_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "note_answer" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"note_id" uuid NOT NULL,
	"person" text NOT NULL,
	"text" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "note" ADD CONSTRAINT "note_livery_id_livery_id_fk" FOREIGN KEY ("livery_id") REFERENCES "public"."livery"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "note_answer" ADD CONSTRAINT "note_answer_note_id_note_id_fk" FOREIGN KEY ("note_id") REFERENCES "public"."note"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "note_of" ON "note" USING btree ("livery_id","number");--> statement-breakpoint
CREATE INDEX "note_answer_of" ON "note_answer" USING btree ("note_id");