CREATE TABLE `tokens` (
	`id` text PRIMARY KEY NOT NULL,
	`person` text NOT NULL,
	`roles` text NOT NULL,
	`digest` text NOT NULL,
	`made_at` text NOT NULL,
	`ends_at` text NOT NULL,
	`ended_at` text
);
--> statement-breakpoint
CREATE UNIQUE INDEX `tokens_digest_unique` ON `tokens` (`digest`);--> statement-breakpoint
CREATE INDEX `tokens_person` ON `tokens` (`person`);--> statement-breakpoint
ALTER TABLE `events` ADD `token` text;