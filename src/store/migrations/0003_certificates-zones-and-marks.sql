CREATE TABLE `certificates` (
	`run_id` text PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`content` text NOT NULL,
	`digest` text NOT NULL,
	FOREIGN KEY (`run_id`) REFERENCES `runs`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `certificates_number_unique` ON `certificates` (`number`);--> statement-breakpoint
CREATE TABLE `facts` (
	`key` text PRIMARY KEY NOT NULL,
	`value` text NOT NULL
);
--> statement-breakpoint
ALTER TABLE `events` ADD `clock` text;--> statement-breakpoint
ALTER TABLE `laboratory` ADD `time_zone` text;--> statement-breakpoint
ALTER TABLE `people` ADD `retired_at` text;
--> statement-breakpoint
CREATE TRIGGER `certificates_never_changed` BEFORE UPDATE ON `certificates` BEGIN SELECT RAISE(ABORT, 'Certificates stay as they were issued.'); END;
--> statement-breakpoint
CREATE TRIGGER `certificates_never_removed` BEFORE DELETE ON `certificates` BEGIN SELECT RAISE(ABORT, 'Certificates stay as they were issued.'); END;
