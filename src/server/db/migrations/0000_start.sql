CREATE TABLE "blob_chunks" (
	"hash" text NOT NULL,
	"part" integer NOT NULL,
	"data" "bytea" NOT NULL,
	CONSTRAINT "blob_chunks_hash_part_pk" PRIMARY KEY("hash","part")
);
--> statement-breakpoint
CREATE TABLE "blobs" (
	"hash" text PRIMARY KEY NOT NULL,
	"size" bigint NOT NULL,
	"summary" jsonb
);
--> statement-breakpoint
CREATE TABLE "check_ups" (
	"hash" text PRIMARY KEY NOT NULL,
	"check_up" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "job_files" (
	"job" uuid NOT NULL,
	"name" text NOT NULL,
	"hash" text NOT NULL,
	"size" bigint NOT NULL,
	CONSTRAINT "job_files_job_name_pk" PRIMARY KEY("job","name")
);
--> statement-breakpoint
CREATE TABLE "jobs" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"title" text NOT NULL,
	"head" uuid,
	"picture" text,
	"demo" boolean DEFAULT false NOT NULL,
	"created" timestamp with time zone DEFAULT now() NOT NULL,
	"updated" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "results" (
	"key" text PRIMARY KEY NOT NULL,
	"kind" text NOT NULL,
	"result" jsonb NOT NULL,
	"created" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "revisions" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"order" serial NOT NULL,
	"job" uuid NOT NULL,
	"parent" uuid,
	"label" text NOT NULL,
	"recipe" jsonb NOT NULL,
	"created" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "runs" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"job" uuid NOT NULL,
	"revision" uuid,
	"ghost" boolean DEFAULT false NOT NULL,
	"recipe" jsonb NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"progress" real DEFAULT 0 NOT NULL,
	"phase" text DEFAULT '' NOT NULL,
	"steps" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"created" timestamp with time zone DEFAULT now() NOT NULL,
	"ended" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "workers" (
	"id" text PRIMARY KEY NOT NULL,
	"beat" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "blob_chunks" ADD CONSTRAINT "blob_chunks_hash_blobs_hash_fk" FOREIGN KEY ("hash") REFERENCES "public"."blobs"("hash") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "job_files" ADD CONSTRAINT "job_files_job_jobs_id_fk" FOREIGN KEY ("job") REFERENCES "public"."jobs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "revisions" ADD CONSTRAINT "revisions_job_jobs_id_fk" FOREIGN KEY ("job") REFERENCES "public"."jobs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "runs" ADD CONSTRAINT "runs_job_jobs_id_fk" FOREIGN KEY ("job") REFERENCES "public"."jobs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "revisions_job" ON "revisions" USING btree ("job","order");--> statement-breakpoint
CREATE INDEX "revisions_parent" ON "revisions" USING btree ("parent");--> statement-breakpoint
CREATE INDEX "runs_job" ON "runs" USING btree ("job","created");--> statement-breakpoint
CREATE INDEX "runs_revision" ON "runs" USING btree ("revision");