CREATE TABLE "groups" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"position" double precision NOT NULL,
	"body" jsonb NOT NULL,
	CONSTRAINT "groups_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "log_entries" (
	"id" text PRIMARY KEY NOT NULL,
	"performance_id" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"what" text NOT NULL,
	"moment_id" text,
	"cue" text NOT NULL,
	"name" text NOT NULL,
	"asked_by" text NOT NULL,
	"lines" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "looks" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"position" double precision NOT NULL,
	"body" jsonb NOT NULL,
	CONSTRAINT "looks_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "midi_files" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"position" double precision NOT NULL,
	"body" jsonb NOT NULL,
	CONSTRAINT "midi_files_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "performances" (
	"id" text PRIMARY KEY NOT NULL,
	"show_id" text NOT NULL,
	"name" text NOT NULL,
	"begun_at" timestamp with time zone NOT NULL,
	"ended_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "shows" ADD COLUMN "locked" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "shows" ADD COLUMN "kept" jsonb;--> statement-breakpoint
ALTER TABLE "groups" ADD CONSTRAINT "groups_show_id_shows_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."shows"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "log_entries" ADD CONSTRAINT "log_entries_performance_id_performances_id_fk" FOREIGN KEY ("performance_id") REFERENCES "public"."performances"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "looks" ADD CONSTRAINT "looks_show_id_shows_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."shows"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "midi_files" ADD CONSTRAINT "midi_files_show_id_shows_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."shows"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "performances" ADD CONSTRAINT "performances_show_id_shows_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."shows"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "log_of_performance" ON "log_entries" USING btree ("performance_id","at");