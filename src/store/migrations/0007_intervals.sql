CREATE TABLE `moved_dates` (
	`sequence` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`instrument_id` text NOT NULL,
	`before` text,
	`after` text NOT NULL,
	`reason` text NOT NULL,
	`at` text NOT NULL,
	`person` text NOT NULL,
	FOREIGN KEY (`instrument_id`) REFERENCES `instruments`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `moved_dates_instrument` ON `moved_dates` (`instrument_id`);--> statement-breakpoint
CREATE TABLE `policies` (
	`sequence` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`scope` text NOT NULL,
	`subject` text NOT NULL,
	`policy` text,
	`at` text NOT NULL,
	`person` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `use_counts` (
	`sequence` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`instrument_id` text NOT NULL,
	`day` text NOT NULL,
	`count` real NOT NULL,
	`at` text NOT NULL,
	`person` text NOT NULL,
	FOREIGN KEY (`instrument_id`) REFERENCES `instruments`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `use_counts_instrument` ON `use_counts` (`instrument_id`,`day`);--> statement-breakpoint
ALTER TABLE `instruments` ADD `use` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `runs` ADD `purpose` text DEFAULT 'calibration' NOT NULL;--> statement-breakpoint
ALTER TABLE `runs` ADD `pairs` text;--> statement-breakpoint
CREATE INDEX `runs_finished` ON `runs` (`purpose`,`status`,`instrument_id`);--> statement-breakpoint
CREATE TRIGGER `policies_never_changed` BEFORE UPDATE ON `policies` BEGIN SELECT RAISE(ABORT, 'Policies are appended, never changed.'); END;--> statement-breakpoint
CREATE TRIGGER `policies_never_removed` BEFORE DELETE ON `policies` BEGIN SELECT RAISE(ABORT, 'Policies are appended, never removed.'); END;--> statement-breakpoint
CREATE TRIGGER `use_counts_never_changed` BEFORE UPDATE ON `use_counts` BEGIN SELECT RAISE(ABORT, 'Counts are appended, never changed.'); END;--> statement-breakpoint
CREATE TRIGGER `use_counts_never_removed` BEFORE DELETE ON `use_counts` BEGIN SELECT RAISE(ABORT, 'Counts are appended, never removed.'); END;--> statement-breakpoint
CREATE TRIGGER `moved_dates_never_changed` BEFORE UPDATE ON `moved_dates` BEGIN SELECT RAISE(ABORT, 'Moved dates are appended, never changed.'); END;--> statement-breakpoint
CREATE TRIGGER `moved_dates_never_removed` BEFORE DELETE ON `moved_dates` BEGIN SELECT RAISE(ABORT, 'Moved dates are appended, never removed.'); END;
