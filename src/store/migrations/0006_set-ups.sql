ALTER TABLE `runs` ADD `set_up` text;--> statement-breakpoint
CREATE INDEX `runs_set_up` ON `runs` (`set_up`);