CREATE TABLE "blob" (
	"hash" text PRIMARY KEY NOT NULL,
	"bytes" integer NOT NULL,
	"touched_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "blob_chunk" (
	"hash" text NOT NULL,
	"part" integer NOT NULL,
	"content" "bytea" NOT NULL,
	CONSTRAINT "blob_chunk_hash_part_pk" PRIMARY KEY("hash","part")
);
--> statement-breakpoint
CREATE TABLE "decal" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"name" text NOT NULL,
	"tags" text[] NOT NULL,
	"blob" text NOT NULL,
	"source" text NOT NULL,
	"ratio" real NOT NULL,
	"colours" text[] NOT NULL,
	"origin" text NOT NULL,
	"licence" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "decal_blob_unique" UNIQUE("blob")
);
--> statement-breakpoint
CREATE TABLE "delivery" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"order" bigserial NOT NULL,
	"livery_id" uuid NOT NULL,
	"revision" integer NOT NULL,
	"spec_key" text NOT NULL,
	"spec_version" integer NOT NULL,
	"state" text NOT NULL,
	"progress" jsonb NOT NULL,
	"cancelled" boolean DEFAULT false NOT NULL,
	"fence" integer DEFAULT 0 NOT NULL,
	"game" text NOT NULL,
	"folder" text NOT NULL,
	"files" jsonb NOT NULL,
	"replaced" jsonb NOT NULL,
	"zip" text,
	"error" text,
	"seconds" real,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"finished_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "edit" (
	"livery_id" uuid NOT NULL,
	"revision" integer NOT NULL,
	"id" text NOT NULL,
	"person" text NOT NULL,
	"edit" jsonb NOT NULL,
	"inverse" jsonb NOT NULL,
	"undoes" text,
	"redoes" text,
	"label" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "edit_livery_id_revision_pk" PRIMARY KEY("livery_id","revision")
);
--> statement-breakpoint
CREATE TABLE "livery" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"revision" integer NOT NULL,
	"picture" text,
	"picture_revision" integer,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "snapshot" (
	"livery_id" uuid NOT NULL,
	"revision" integer NOT NULL,
	"document" jsonb NOT NULL,
	CONSTRAINT "snapshot_livery_id_revision_pk" PRIMARY KEY("livery_id","revision")
);
--> statement-breakpoint
CREATE TABLE "template" (
	"hash" text PRIMARY KEY NOT NULL,
	"key" text NOT NULL,
	"document" json NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "blob_chunk" ADD CONSTRAINT "blob_chunk_hash_blob_hash_fk" FOREIGN KEY ("hash") REFERENCES "public"."blob"("hash") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "delivery" ADD CONSTRAINT "delivery_livery_id_livery_id_fk" FOREIGN KEY ("livery_id") REFERENCES "public"."livery"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "edit" ADD CONSTRAINT "edit_livery_id_livery_id_fk" FOREIGN KEY ("livery_id") REFERENCES "public"."livery"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "snapshot" ADD CONSTRAINT "snapshot_livery_id_livery_id_fk" FOREIGN KEY ("livery_id") REFERENCES "public"."livery"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "delivery_of" ON "delivery" USING btree ("livery_id","order");--> statement-breakpoint
CREATE UNIQUE INDEX "edit_once" ON "edit" USING btree ("livery_id","id");