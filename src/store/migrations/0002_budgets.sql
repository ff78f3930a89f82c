CREATE TABLE `budgets` (
	`id` text PRIMARY KEY NOT NULL,
	`document` text NOT NULL,
	`changed_at` text NOT NULL
);
