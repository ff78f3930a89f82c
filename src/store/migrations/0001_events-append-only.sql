CREATE TRIGGER `events_never_changed` BEFORE UPDATE ON `events` BEGIN SELECT RAISE(ABORT, 'Events are appended, never changed.'); END;
--> statement-breakpoint
CREATE TRIGGER `events_never_removed` BEFORE DELETE ON `events` BEGIN SELECT RAISE(ABORT, 'Events are appended, never removed.'); END;
