CREATE TABLE "access" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"kind" text NOT NULL,
	"object" text NOT NULL,
	"painter_id" uuid NOT NULL,
	"role" text NOT NULL,
	"link_id" uuid,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "attempt" (
	"key" text NOT NULL,
	"begins" timestamp with time zone NOT NULL,
	"count" integer NOT NULL,
	CONSTRAINT "attempt_key_begins_pk" PRIMARY KEY("key","begins")
);
--> statement-breakpoint
CREATE TABLE "blob_use" (
	"hash" text NOT NULL,
	"kind" text NOT NULL,
	"object" text NOT NULL,
	CONSTRAINT "blob_use_hash_kind_object_pk" PRIMARY KEY("hash","kind","object")
);
--> statement-breakpoint
CREATE TABLE "challenge" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"challenge" text NOT NULL,
	"painter_id" uuid,
	"ends_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "here" (
	"livery_id" uuid NOT NULL,
	"window" uuid NOT NULL,
	"painter_id" uuid NOT NULL,
	"sheet" text,
	"layer" text,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "here_livery_id_window_pk" PRIMARY KEY("livery_id","window")
);
--> statement-breakpoint
CREATE TABLE "invitation" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"token" text NOT NULL,
	"note" text NOT NULL,
	"keeper" boolean NOT NULL,
	"painter_id" uuid,
	"made_by" uuid,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ends_at" timestamp with time zone NOT NULL,
	CONSTRAINT "invitation_token_unique" UNIQUE("token")
);
--> statement-breakpoint
CREATE TABLE "link" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"token" text NOT NULL,
	"kind" text NOT NULL,
	"object" text NOT NULL,
	"role" text NOT NULL,
	"made_by" uuid,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ends_at" timestamp with time zone,
	CONSTRAINT "link_token_unique" UNIQUE("token")
);
--> statement-breakpoint
CREATE TABLE "painter" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"name" text NOT NULL,
	"name_key" text NOT NULL,
	"keeper" boolean NOT NULL,
	"password" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"closed_at" timestamp with time zone,
	CONSTRAINT "painter_nameKey_unique" UNIQUE("name_key")
);
--> statement-breakpoint
CREATE TABLE "passkey" (
	"id" text PRIMARY KEY NOT NULL,
	"painter_id" uuid NOT NULL,
	"name" text NOT NULL,
	"public_key" "bytea" NOT NULL,
	"counter" integer NOT NULL,
	"transports" text[] NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"used_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "recovery_code" (
	"painter_id" uuid NOT NULL,
	"code" text NOT NULL,
	CONSTRAINT "recovery_code_painter_id_code_pk" PRIMARY KEY("painter_id","code")
);
--> statement-breakpoint
CREATE TABLE "session" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"token" text NOT NULL,
	"before" text,
	"turned_at" timestamp with time zone DEFAULT now() NOT NULL,
	"painter_id" uuid NOT NULL,
	"browser" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"used_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ends_at" timestamp with time zone NOT NULL,
	CONSTRAINT "session_token_unique" UNIQUE("token")
);
--> statement-breakpoint
ALTER TABLE "access" ADD CONSTRAINT "access_painter_id_painter_id_fk" FOREIGN KEY ("painter_id") REFERENCES "public"."painter"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "access" ADD CONSTRAINT "access_link_id_link_id_fk" FOREIGN KEY ("link_id") REFERENCES "public"."link"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "challenge" ADD CONSTRAINT "challenge_painter_id_painter_id_fk" FOREIGN KEY ("painter_id") REFERENCES "public"."painter"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "here" ADD CONSTRAINT "here_livery_id_livery_id_fk" FOREIGN KEY ("livery_id") REFERENCES "public"."livery"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "here" ADD CONSTRAINT "here_painter_id_painter_id_fk" FOREIGN KEY ("painter_id") REFERENCES "public"."painter"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "invitation" ADD CONSTRAINT "invitation_painter_id_painter_id_fk" FOREIGN KEY ("painter_id") REFERENCES "public"."painter"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "invitation" ADD CONSTRAINT "invitation_made_by_painter_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."painter"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "link" ADD CONSTRAINT "link_made_by_painter_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."painter"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "passkey" ADD CONSTRAINT "passkey_painter_id_painter_id_fk" FOREIGN KEY ("painter_id") REFERENCES "public"."painter"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "recovery_code" ADD CONSTRAINT "recovery_code_painter_id_painter_id_fk" FOREIGN KEY ("painter_id") REFERENCES "public"."painter"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "session" ADD CONSTRAINT "session_painter_id_painter_id_fk" FOREIGN KEY ("painter_id") REFERENCES "public"."painter"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "access_once" ON "access" USING btree ("kind","object","painter_id","role","link_id");--> statement-breakpoint
CREATE INDEX "access_of" ON "access" USING btree ("painter_id","kind");--> statement-breakpoint
CREATE INDEX "blob_use_of" ON "blob_use" USING btree ("kind","object");--> statement-breakpoint
CREATE INDEX "session_of" ON "session" USING btree ("painter_id");--> statement-breakpoint
CREATE INDEX "session_before" ON "session" USING btree ("before");--> statement-breakpoint
ALTER TABLE "here" SET UNLOGGED;--> statement-breakpoint
-- Notes what a row names by hash: kind of thing, the column with its id, and the columns that are looked through.
CREATE FUNCTION note_uses() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  held jsonb := to_jsonb(new);
  said text := '';
BEGIN
  FOR i IN 2 .. tg_nargs - 1 LOOP
    said := said || ' ' || coalesce(held ->> tg_argv[i], '');
  END LOOP;
  INSERT INTO blob_use (hash, kind, object)
    SELECT DISTINCT hit[1], tg_argv[0], held ->> tg_argv[1] FROM regexp_matches(said, '[0-9a-f]{64}', 'g') AS m (hit)
    ON CONFLICT DO NOTHING;
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE FUNCTION forget_thing() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  gone text := to_jsonb(old) ->> tg_argv[1];
BEGIN
  DELETE FROM blob_use WHERE kind = tg_argv[0] AND object = gone;
  DELETE FROM access WHERE kind = tg_argv[0] AND object = gone;
  DELETE FROM link WHERE kind = tg_argv[0] AND object = gone;
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE TRIGGER uses AFTER INSERT OR UPDATE ON edit FOR EACH ROW EXECUTE FUNCTION note_uses('livery', 'livery_id', 'edit', 'inverse');--> statement-breakpoint
CREATE TRIGGER uses AFTER INSERT OR UPDATE ON snapshot FOR EACH ROW EXECUTE FUNCTION note_uses('livery', 'livery_id', 'document');--> statement-breakpoint
CREATE TRIGGER uses AFTER INSERT OR UPDATE ON set_aside FOR EACH ROW EXECUTE FUNCTION note_uses('livery', 'livery_id', 'entry');--> statement-breakpoint
CREATE TRIGGER uses AFTER INSERT OR UPDATE OF picture ON livery FOR EACH ROW EXECUTE FUNCTION note_uses('livery', 'id', 'picture');--> statement-breakpoint
CREATE TRIGGER uses AFTER INSERT OR UPDATE ON delivery FOR EACH ROW EXECUTE FUNCTION note_uses('livery', 'livery_id', 'files', 'bases', 'replaced', 'zip');--> statement-breakpoint
CREATE TRIGGER uses AFTER INSERT OR UPDATE ON template FOR EACH ROW EXECUTE FUNCTION note_uses('template', 'hash', 'document', 'picture');--> statement-breakpoint
CREATE TRIGGER uses AFTER INSERT OR UPDATE ON intake_file FOR EACH ROW EXECUTE FUNCTION note_uses('intake', 'intake_id', 'blob', 'preview', 'difference');--> statement-breakpoint
CREATE TRIGGER uses AFTER INSERT OR UPDATE ON decal FOR EACH ROW EXECUTE FUNCTION note_uses('decal', 'id', 'blob');--> statement-breakpoint
CREATE TRIGGER uses AFTER INSERT OR UPDATE ON team_step FOR EACH ROW EXECUTE FUNCTION note_uses('team', 'team_id', 'document', 'given');--> statement-breakpoint
CREATE TRIGGER uses AFTER INSERT OR UPDATE ON spec FOR EACH ROW EXECUTE FUNCTION note_uses('spec', 'key', 'document');--> statement-breakpoint
CREATE TRIGGER forgotten AFTER DELETE ON livery FOR EACH ROW EXECUTE FUNCTION forget_thing('livery', 'id');--> statement-breakpoint
CREATE TRIGGER forgotten AFTER DELETE ON template FOR EACH ROW EXECUTE FUNCTION forget_thing('template', 'hash');--> statement-breakpoint
CREATE TRIGGER forgotten AFTER DELETE ON decal FOR EACH ROW EXECUTE FUNCTION forget_thing('decal', 'id');--> statement-breakpoint
CREATE TRIGGER forgotten AFTER DELETE ON team FOR EACH ROW EXECUTE FUNCTION forget_thing('team', 'id');--> statement-breakpoint
CREATE TRIGGER forgotten AFTER DELETE ON intake FOR EACH ROW EXECUTE FUNCTION forget_thing('intake', 'id');--> statement-breakpoint
INSERT INTO blob_use (hash, kind, object)
  SELECT (regexp_matches(edit::text || ' ' || inverse::text, '[0-9a-f]{64}', 'g'))[1], 'livery', livery_id::text FROM edit
  UNION SELECT (regexp_matches(document::text, '[0-9a-f]{64}', 'g'))[1], 'livery', livery_id::text FROM snapshot
  UNION SELECT (regexp_matches(entry::text, '[0-9a-f]{64}', 'g'))[1], 'livery', livery_id::text FROM set_aside
  UNION SELECT picture, 'livery', id::text FROM livery WHERE picture IS NOT NULL
  UNION SELECT (regexp_matches(files::text || ' ' || bases::text || ' ' || replaced::text || ' ' || coalesce(zip, ''), '[0-9a-f]{64}', 'g'))[1], 'livery', livery_id::text FROM delivery
  UNION SELECT (regexp_matches(document::text || ' ' || coalesce(picture, ''), '[0-9a-f]{64}', 'g'))[1], 'template', hash FROM template
  UNION SELECT (regexp_matches(blob || ' ' || coalesce(preview, '') || ' ' || coalesce(difference, ''), '[0-9a-f]{64}', 'g'))[1], 'intake', intake_id::text FROM intake_file
  UNION SELECT blob, 'decal', id::text FROM decal
  UNION SELECT (regexp_matches(document::text || ' ' || given::text, '[0-9a-f]{64}', 'g'))[1], 'team', team_id::text FROM team_step
  UNION SELECT (regexp_matches(document::text, '[0-9a-f]{64}', 'g'))[1], 'spec', key FROM spec;--> statement-breakpoint
-- What somebody may do with a thing: 0 nothing, 1 look, 2 copy, 3 paint, 4 own. What has no owner is the house's: keepers have it, and
-- all may copy its templates, decals and specs. Whoever may copy a livery may copy the templates that it names.
CREATE FUNCTION role_of(who uuid, keeps boolean, of_kind text, of_object text) RETURNS integer LANGUAGE sql STABLE AS $$
  SELECT greatest(
    coalesce((
      SELECT max(CASE a.role WHEN 'own' THEN 4 WHEN 'paint' THEN 3 WHEN 'copy' THEN 2 WHEN 'look' THEN 1 ELSE 0 END)
      FROM access a LEFT JOIN link l ON l.id = a.link_id
      WHERE a.kind = of_kind AND a.object = of_object AND a.painter_id = who AND (l.ends_at IS NULL OR l.ends_at > now())
    ), 0),
    CASE
      WHEN NOT (keeps OR of_kind IN ('template', 'decal', 'spec')) THEN 0
      WHEN EXISTS (SELECT 1 FROM access a WHERE a.kind = of_kind AND a.object = of_object AND a.role = 'own') THEN 0
      WHEN keeps THEN 4
      ELSE 2
    END,
    CASE WHEN of_kind = 'template' AND EXISTS (
      SELECT 1 FROM blob_use u JOIN access a ON a.kind = 'livery' AND a.object = u.object LEFT JOIN link l ON l.id = a.link_id
      WHERE u.hash = of_object AND u.kind = 'livery' AND a.painter_id = who AND a.role <> 'look' AND (l.ends_at IS NULL OR l.ends_at > now())
    ) THEN 2 ELSE 0 END)
$$;--> statement-breakpoint
-- Of some hashes, those under which something is stored that somebody may not fetch.
CREATE FUNCTION out_of_reach(who uuid, keeps boolean, hashes text[]) RETURNS SETOF text LANGUAGE sql STABLE AS $$
  SELECT asked.hash FROM unnest(hashes) AS asked (hash)
  WHERE (EXISTS (SELECT 1 FROM blob b WHERE b.hash = asked.hash) OR EXISTS (SELECT 1 FROM template t WHERE t.hash = asked.hash))
    AND NOT EXISTS (SELECT 1 FROM blob_use u WHERE u.hash = asked.hash AND u.kind = 'painter' AND u.object = who::text)
    AND NOT EXISTS (SELECT 1 FROM template t WHERE t.hash = asked.hash AND role_of(who, keeps, 'template', t.hash) >= 2)
    AND NOT EXISTS (SELECT 1 FROM blob_use u WHERE u.hash = asked.hash AND u.kind <> 'painter' AND role_of(who, keeps, u.kind, u.object) >= 2)
$$;
