CREATE TABLE `events` (
	`run_id` text NOT NULL,
	`sequence` integer NOT NULL,
	`at` text NOT NULL,
	`person` text NOT NULL,
	`idempotency_key` text NOT NULL,
	`act` text NOT NULL,
	PRIMARY KEY(`run_id`, `sequence`),
	FOREIGN KEY (`run_id`) REFERENCES `runs`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `events_idempotency` ON `events` (`run_id`,`idempotency_key`);--> statement-breakpoint
CREATE TABLE `instruments` (
	`id` text PRIMARY KEY NOT NULL,
	`identification` text NOT NULL,
	`kind` text NOT NULL,
	`designation` text NOT NULL,
	`owner` text NOT NULL,
	`place` text NOT NULL,
	`range_lower` real NOT NULL,
	`range_upper` real NOT NULL,
	`calibrated_lower` real NOT NULL,
	`calibrated_upper` real NOT NULL,
	`resolution` real NOT NULL,
	`maximum_permissible_error` real,
	`adjustment_allowed` integer NOT NULL,
	`interval_months` integer,
	`state` text NOT NULL,
	`last_calibrated` text,
	`next_due` text
);
--> statement-breakpoint
CREATE UNIQUE INDEX `instruments_identification_unique` ON `instruments` (`identification`);--> statement-breakpoint
CREATE INDEX `instruments_next_due` ON `instruments` (`state`,`next_due`);--> statement-breakpoint
CREATE TABLE `laboratory` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`address` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `people` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `people_name_unique` ON `people` (`name`);--> statement-breakpoint
CREATE TABLE `procedures` (
	`id` text NOT NULL,
	`revision` integer NOT NULL,
	`document` text NOT NULL,
	PRIMARY KEY(`id`, `revision`)
);
--> statement-breakpoint
CREATE TABLE `runs` (
	`id` text PRIMARY KEY NOT NULL,
	`instrument_id` text NOT NULL,
	`standard_id` text NOT NULL,
	`procedure_id` text NOT NULL,
	`procedure_revision` integer NOT NULL,
	`status` text NOT NULL,
	`started_at` text NOT NULL,
	`finished_at` text,
	`certificate` text,
	`is_reviewed` integer DEFAULT false NOT NULL,
	`summary` text,
	FOREIGN KEY (`instrument_id`) REFERENCES `instruments`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`standard_id`) REFERENCES `standards`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `runs_certificate_unique` ON `runs` (`certificate`);--> statement-breakpoint
CREATE INDEX `runs_instrument` ON `runs` (`instrument_id`,`started_at`);--> statement-breakpoint
CREATE INDEX `runs_standard` ON `runs` (`standard_id`);--> statement-breakpoint
CREATE UNIQUE INDEX `runs_one_open_per_instrument` ON `runs` (`instrument_id`) WHERE status = 'open';--> statement-breakpoint
CREATE TABLE `standard_items` (
	`id` text PRIMARY KEY NOT NULL,
	`standard_id` text NOT NULL,
	`nominal` real NOT NULL,
	`certified` real NOT NULL,
	`expanded_uncertainty` real NOT NULL,
	`coverage_factor` real NOT NULL,
	`expansion_coefficient` real NOT NULL,
	`marking` text NOT NULL,
	FOREIGN KEY (`standard_id`) REFERENCES `standards`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `standard_items_standard` ON `standard_items` (`standard_id`);--> statement-breakpoint
CREATE TABLE `standards` (
	`id` text PRIMARY KEY NOT NULL,
	`identification` text NOT NULL,
	`kind` text NOT NULL,
	`designation` text NOT NULL,
	`place` text NOT NULL,
	`certificate_issuer` text NOT NULL,
	`certificate_number` text NOT NULL,
	`certificate_date` text NOT NULL,
	`due` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `standards_identification_unique` ON `standards` (`identification`);