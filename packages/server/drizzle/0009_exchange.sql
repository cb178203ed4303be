CREATE TABLE "friend" (
	"listing_id" uuid NOT NULL,
	"who" text NOT NULL,
	"version" integer NOT NULL,
	"files" jsonb NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "friend_listing_id_who_pk" PRIMARY KEY("listing_id","who")
);
--> statement-breakpoint
CREATE TABLE "listing" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"subscription_id" uuid,
	"theirs" text,
	"livery_id" uuid,
	"spec_key" text NOT NULL,
	"painter_id" uuid,
	"version" integer NOT NULL,
	"words" text NOT NULL,
	"game" text NOT NULL,
	"subject" text NOT NULL,
	"crew" text NOT NULL,
	"facts" jsonb NOT NULL,
	"taken_down" text,
	"taken_down_here" boolean DEFAULT false NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "listing_version" (
	"listing_id" uuid NOT NULL,
	"version" integer NOT NULL,
	"document" json NOT NULL,
	"hash" text NOT NULL,
	"bytes" bigint NOT NULL,
	"findings" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "listing_version_listing_id_version_pk" PRIMARY KEY("listing_id","version")
);
--> statement-breakpoint
CREATE TABLE "put_in" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"order" bigserial NOT NULL,
	"listing_id" uuid NOT NULL,
	"version" integer NOT NULL,
	"host" text NOT NULL,
	"game" text NOT NULL,
	"state" text NOT NULL,
	"key" text NOT NULL,
	"number" integer,
	"files" jsonb NOT NULL,
	"replaced" jsonb NOT NULL,
	"notes" jsonb NOT NULL,
	"painter_id" uuid,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "report" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"listing_id" uuid NOT NULL,
	"painter_id" uuid,
	"why" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "subscription" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"url" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"looked_at" timestamp with time zone,
	"problem" text,
	CONSTRAINT "subscription_url_unique" UNIQUE("url")
);
--> statement-breakpoint
ALTER TABLE "friend" ADD CONSTRAINT "friend_listing_id_listing_id_fk" FOREIGN KEY ("listing_id") REFERENCES "public"."listing"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "listing" ADD CONSTRAINT "listing_subscription_id_subscription_id_fk" FOREIGN KEY ("subscription_id") REFERENCES "public"."subscription"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "listing" ADD CONSTRAINT "listing_livery_id_livery_id_fk" FOREIGN KEY ("livery_id") REFERENCES "public"."livery"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "listing" ADD CONSTRAINT "listing_painter_id_painter_id_fk" FOREIGN KEY ("painter_id") REFERENCES "public"."painter"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "listing_version" ADD CONSTRAINT "listing_version_listing_id_listing_id_fk" FOREIGN KEY ("listing_id") REFERENCES "public"."listing"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "put_in" ADD CONSTRAINT "put_in_listing_id_listing_id_fk" FOREIGN KEY ("listing_id") REFERENCES "public"."listing"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "put_in" ADD CONSTRAINT "put_in_painter_id_painter_id_fk" FOREIGN KEY ("painter_id") REFERENCES "public"."painter"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "report" ADD CONSTRAINT "report_listing_id_listing_id_fk" FOREIGN KEY ("listing_id") REFERENCES "public"."listing"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "report" ADD CONSTRAINT "report_painter_id_painter_id_fk" FOREIGN KEY ("painter_id") REFERENCES "public"."painter"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "listing_theirs" ON "listing" USING btree ("subscription_id","theirs");--> statement-breakpoint
CREATE INDEX "listing_of" ON "listing" USING btree ("livery_id","spec_key");--> statement-breakpoint
CREATE INDEX "put_in_of" ON "put_in" USING btree ("listing_id","host","order");