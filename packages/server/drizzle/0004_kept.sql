CREATE TABLE "set_aside" (
	"livery_id" uuid NOT NULL,
	"id" text NOT NULL,
	"order" bigserial NOT NULL,
	"entry" jsonb NOT NULL,
	"why" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "set_aside_livery_id_id_pk" PRIMARY KEY("livery_id","id")
);
--> statement-breakpoint
ALTER TABLE "blob" ADD COLUMN "facts" jsonb;--> statement-breakpoint
ALTER TABLE "delivery" ADD COLUMN "host" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "livery" ADD COLUMN "deleted_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "set_aside" ADD CONSTRAINT "set_aside_livery_id_livery_id_fk" FOREIGN KEY ("livery_id") REFERENCES "public"."livery"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "edit_by" ON "edit" USING btree ("livery_id","person","revision");