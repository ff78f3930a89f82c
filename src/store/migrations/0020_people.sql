CREATE TABLE `accounts` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`email` text NOT NULL,
	`email_verified` integer DEFAULT true NOT NULL,
	`image` text,
	`created_at` integer NOT NULL,
	`updated_at` integer NOT NULL,
	`is_bench` integer DEFAULT false NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `accounts_email_unique` ON `accounts` (`email`);--> statement-breakpoint
CREATE TABLE `competences` (
	`id` text PRIMARY KEY NOT NULL,
	`person` text NOT NULL,
	`kind` text NOT NULL,
	`may` text NOT NULL,
	`from` text NOT NULL,
	`until` text,
	`ground` text NOT NULL,
	`noted_by` text NOT NULL,
	`noted_at` text NOT NULL
);
--> statement-breakpoint
CREATE INDEX `competences_person` ON `competences` (`person`);--> statement-breakpoint
CREATE TABLE `credentials` (
	`id` text PRIMARY KEY NOT NULL,
	`account_id` text NOT NULL,
	`provider_id` text NOT NULL,
	`user_id` text NOT NULL,
	`access_token` text,
	`refresh_token` text,
	`id_token` text,
	`access_token_expires_at` integer,
	`refresh_token_expires_at` integer,
	`scope` text,
	`password` text,
	`created_at` integer NOT NULL,
	`updated_at` integer NOT NULL,
	FOREIGN KEY (`user_id`) REFERENCES `accounts`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `credentials_user` ON `credentials` (`user_id`);--> statement-breakpoint
CREATE TABLE `deeds` (
	`sequence` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`at` text NOT NULL,
	`person` text,
	`what` text NOT NULL,
	`subject` text DEFAULT '' NOT NULL,
	`detail` text DEFAULT '' NOT NULL,
	`by` text DEFAULT '' NOT NULL
);
--> statement-breakpoint
CREATE INDEX `deeds_person` ON `deeds` (`person`,`sequence`);--> statement-breakpoint
CREATE TABLE `keys` (
	`person` text PRIMARY KEY NOT NULL,
	`digits` text,
	`digit_tries` integer DEFAULT 0 NOT NULL,
	`code` text,
	`code_ends_at` integer DEFAULT 0 NOT NULL
);
--> statement-breakpoint
CREATE TABLE `sessions` (
	`id` text PRIMARY KEY NOT NULL,
	`token` text NOT NULL,
	`user_id` text NOT NULL,
	`expires_at` integer NOT NULL,
	`created_at` integer NOT NULL,
	`updated_at` integer NOT NULL,
	`ip_address` text,
	`user_agent` text,
	`person` text,
	`active_at` integer DEFAULT 0 NOT NULL,
	`confirmed_at` integer DEFAULT 0 NOT NULL,
	FOREIGN KEY (`user_id`) REFERENCES `accounts`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE UNIQUE INDEX `sessions_token_unique` ON `sessions` (`token`);--> statement-breakpoint
CREATE INDEX `sessions_user` ON `sessions` (`user_id`);--> statement-breakpoint
CREATE TABLE `verifications` (
	`id` text PRIMARY KEY NOT NULL,
	`identifier` text NOT NULL,
	`value` text NOT NULL,
	`expires_at` integer NOT NULL,
	`created_at` integer NOT NULL,
	`updated_at` integer NOT NULL
);
--> statement-breakpoint
ALTER TABLE `laboratory` ADD `sign_off_minutes` integer DEFAULT 15 NOT NULL;--> statement-breakpoint
ALTER TABLE `laboratory` ADD `asks_competence` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `laboratory` ADD `is_of_one` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `people` ADD `roles` text DEFAULT '["technician","reviewer","approver"]' NOT NULL;--> statement-breakpoint
ALTER TABLE `people` ADD `owner` text;--> statement-breakpoint
CREATE TRIGGER `deeds_never_changed` BEFORE UPDATE ON `deeds` BEGIN SELECT RAISE(ABORT, 'Deeds are appended, never changed.'); END;--> statement-breakpoint
CREATE TRIGGER `deeds_never_removed` BEFORE DELETE ON `deeds` BEGIN SELECT RAISE(ABORT, 'Deeds are appended, never removed.'); END;
