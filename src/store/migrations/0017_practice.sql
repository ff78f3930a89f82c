CREATE TABLE `practice_events` (
	`practice_id` text NOT NULL,
	`sequence` integer NOT NULL,
	`at` text NOT NULL,
	`person` text NOT NULL,
	`act` text NOT NULL,
	`idempotency_key` text NOT NULL,
	PRIMARY KEY(`practice_id`, `sequence`),
	FOREIGN KEY (`practice_id`) REFERENCES `practices`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `practice_events_key` ON `practice_events` (`practice_id`,`idempotency_key`);--> statement-breakpoint
CREATE TABLE `practices` (
	`id` text PRIMARY KEY NOT NULL,
	`person` text NOT NULL,
	`case_id` text NOT NULL,
	`procedure_id` text NOT NULL,
	`seed` integer NOT NULL,
	`started_at` text NOT NULL,
	`ended_at` text,
	`debrief` text
);
--> statement-breakpoint
CREATE INDEX `practices_person` ON `practices` (`person`,`started_at`);--> statement-breakpoint
CREATE TRIGGER `practice_events_never_changed` BEFORE UPDATE ON `practice_events` BEGIN SELECT RAISE(ABORT, 'Entries of a practice are appended, never changed.'); END;--> statement-breakpoint
CREATE TRIGGER `practice_events_never_removed` BEFORE DELETE ON `practice_events` BEGIN SELECT RAISE(ABORT, 'Entries of a practice are appended, never removed.'); END;
