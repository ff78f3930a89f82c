CREATE TABLE `check_standings` (
	`instrument_id` text PRIMARY KEY NOT NULL,
	`last_at` text NOT NULL,
	`last_day` text,
	`standing` text,
	`rings` integer DEFAULT false NOT NULL,
	FOREIGN KEY (`instrument_id`) REFERENCES `instruments`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `check_standings_open` ON `check_standings` (`instrument_id`) WHERE standing is null;--> statement-breakpoint
CREATE INDEX `check_standings_rings` ON `check_standings` (`instrument_id`) WHERE rings = 1;--> statement-breakpoint
DROP INDEX `run_standards_standard`;--> statement-breakpoint
ALTER TABLE `run_standards` ADD `started_at` text DEFAULT '' NOT NULL;--> statement-breakpoint
UPDATE `run_standards` SET `started_at` = (SELECT `started_at` FROM `runs` WHERE `runs`.`id` = `run_standards`.`run_id`);--> statement-breakpoint
CREATE INDEX `run_standards_standard` ON `run_standards` (`standard_id`,`started_at`);--> statement-breakpoint
CREATE INDEX `events_at` ON `events` (`at`);--> statement-breakpoint
CREATE INDEX `instruments_kind` ON `instruments` (`kind`,`state`,`next_due`,`last_calibrated`,`id`);--> statement-breakpoint
CREATE INDEX `instruments_owner` ON `instruments` (`state`,`owner`);--> statement-breakpoint
CREATE INDEX `instruments_place` ON `instruments` (`state`,`place`);--> statement-breakpoint
CREATE INDEX `runs_unreviewed` ON `runs` (`finished_at`) WHERE status = 'finished' and is_reviewed = 0;--> statement-breakpoint
CREATE INDEX `runs_without_pairs` ON `runs` (`id`) WHERE status = 'finished' and pairs is null;--> statement-breakpoint
-- How checks stand follows from the runs: it is worked out in the background.
INSERT INTO `check_standings` (`instrument_id`, `last_at`) SELECT `instrument_id`, max(`finished_at`) FROM `runs` WHERE `purpose` = 'quick' AND `status` = 'finished' GROUP BY `instrument_id`;
