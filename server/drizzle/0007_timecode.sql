CREATE TABLE "time_outputs" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"position" double precision NOT NULL,
	"body" jsonb NOT NULL,
	CONSTRAINT "time_outputs_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "time_sources" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"position" double precision NOT NULL,
	"body" jsonb NOT NULL,
	CONSTRAINT "time_sources_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
ALTER TABLE "time_outputs" ADD CONSTRAINT "time_outputs_show_id_shows_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."shows"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "time_sources" ADD CONSTRAINT "time_sources_show_id_shows_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."shows"("id") ON DELETE cascade ON UPDATE no action;