CREATE TABLE "health" (
	"id" integer PRIMARY KEY NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"pad" text DEFAULT '' NOT NULL
);
