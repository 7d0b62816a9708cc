CREATE TABLE "show_versions" (
	"id" text PRIMARY KEY NOT NULL,
	"show_id" text NOT NULL,
	"name" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"body" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "shows" ADD COLUMN "opened_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "shows" ADD COLUMN "archived_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "show_versions" ADD CONSTRAINT "show_versions_show_id_shows_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."shows"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "versions_of_show" ON "show_versions" USING btree ("show_id","at");