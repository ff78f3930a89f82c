CREATE TABLE `outings` (
	`sequence` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`instrument_id` text NOT NULL,
	`what` text NOT NULL,
	`place` text NOT NULL,
	`at` text NOT NULL,
	`person` text NOT NULL,
	FOREIGN KEY (`instrument_id`) REFERENCES `instruments`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `outings_instrument` ON `outings` (`instrument_id`);--> statement-breakpoint
CREATE TRIGGER `outings_never_changed` BEFORE UPDATE ON `outings` BEGIN SELECT RAISE(ABORT, 'Outings are appended, never changed.'); END;--> statement-breakpoint
CREATE TRIGGER `outings_never_removed` BEFORE DELETE ON `outings` BEGIN SELECT RAISE(ABORT, 'Outings are appended, never removed.'); END;
