CREATE TABLE "baked_field" (
	"subject" text NOT NULL,
	"name" text NOT NULL,
	"blob" text NOT NULL,
	"used_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "baked_field_subject_name_pk" PRIMARY KEY("subject","name")
);
