CREATE TABLE "motions" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"position" double precision NOT NULL,
	"body" jsonb NOT NULL,
	CONSTRAINT "motions_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
ALTER TABLE "motions" ADD CONSTRAINT "motions_show_id_shows_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."shows"("id") ON DELETE cascade ON UPDATE no action;