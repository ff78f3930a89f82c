DROP INDEX `instruments_kind`;--> statement-breakpoint
CREATE INDEX `instruments_kind` ON `instruments` (`kind`,`state`,`next_due`,`identification`,`last_calibrated`,`id`);