CREATE TABLE "banks" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"position" double precision NOT NULL,
	"body" jsonb NOT NULL,
	CONSTRAINT "banks_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "edits" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"show_id" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"kind" text NOT NULL,
	"of" bigint,
	"label" text NOT NULL,
	"ops" jsonb NOT NULL,
	"inverse" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "lines" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"position" double precision NOT NULL,
	"body" jsonb NOT NULL,
	CONSTRAINT "lines_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "mappings" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"position" double precision NOT NULL,
	"body" jsonb NOT NULL,
	CONSTRAINT "mappings_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "shows" (
	"id" text PRIMARY KEY NOT NULL,
	"settings" jsonb NOT NULL,
	"rev" integer DEFAULT 0 NOT NULL,
	"armed" integer DEFAULT 1 NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "banks" ADD CONSTRAINT "banks_show_id_shows_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."shows"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "edits" ADD CONSTRAINT "edits_show_id_shows_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."shows"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "lines" ADD CONSTRAINT "lines_show_id_shows_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."shows"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "mappings" ADD CONSTRAINT "mappings_show_id_shows_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."shows"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "edits_show" ON "edits" USING btree ("show_id","id");