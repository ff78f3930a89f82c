ALTER TABLE `instruments` ADD `owner_address` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `instruments` ADD `next_date_wanted` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `laboratory` ADD `condition_instruments` text DEFAULT '' NOT NULL;