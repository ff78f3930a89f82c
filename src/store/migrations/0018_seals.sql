CREATE TABLE `seals` (
	`sequence` integer PRIMARY KEY NOT NULL,
	`at` text NOT NULL,
	`what` text NOT NULL,
	`of_table` text NOT NULL,
	`of_row` text NOT NULL,
	`parts` text NOT NULL,
	`hash` text NOT NULL
);
--> statement-breakpoint
CREATE INDEX `seals_row` ON `seals` (`of_table`,`of_row`,`sequence`);--> statement-breakpoint
ALTER TABLE `events` ADD `seal` text;--> statement-breakpoint
CREATE TRIGGER `seals_never_changed` BEFORE UPDATE ON `seals` BEGIN SELECT RAISE(ABORT, 'Lines of the chain are appended, never changed.'); END;--> statement-breakpoint
CREATE TRIGGER `seals_never_removed` BEFORE DELETE ON `seals` BEGIN SELECT RAISE(ABORT, 'Lines of the chain are appended, never removed.'); END;
