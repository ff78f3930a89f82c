CREATE TABLE `findings` (
	`sequence` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`instrument_id` text NOT NULL,
	`day` text NOT NULL,
	`kind` text NOT NULL,
	`text` text NOT NULL,
	`outcome` text NOT NULL,
	`at` text NOT NULL,
	`person` text NOT NULL,
	FOREIGN KEY (`instrument_id`) REFERENCES `instruments`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `findings_instrument` ON `findings` (`instrument_id`,`day`);--> statement-breakpoint
CREATE TRIGGER `findings_never_changed` BEFORE UPDATE ON `findings` BEGIN SELECT RAISE(ABORT, 'Findings are appended, never changed.'); END;--> statement-breakpoint
CREATE TRIGGER `findings_never_removed` BEFORE DELETE ON `findings` BEGIN SELECT RAISE(ABORT, 'Findings are appended, never removed.'); END;
