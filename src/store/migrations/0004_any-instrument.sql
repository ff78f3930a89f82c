ALTER TABLE `instruments` RENAME COLUMN `range_lower` TO `lower`;--> statement-breakpoint
ALTER TABLE `instruments` RENAME COLUMN `range_upper` TO `upper`;--> statement-breakpoint
ALTER TABLE `instruments` RENAME COLUMN `calibrated_lower` TO `used_lower`;--> statement-breakpoint
ALTER TABLE `instruments` RENAME COLUMN `calibrated_upper` TO `used_upper`;--> statement-breakpoint
ALTER TABLE `instruments` ADD `unit` text DEFAULT 'mm' NOT NULL;--> statement-breakpoint
ALTER TABLE `instruments` ADD `serial_number` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `instruments` ADD `characteristics` text DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE `instruments` ADD `lists` text DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE `instruments` ADD `parts` text DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE `instruments` ADD `stored` text DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE `instruments` ADD `decision_rule` text;--> statement-breakpoint
UPDATE `instruments` SET `characteristics` = json_object('limit', `maximum_permissible_error`) WHERE `maximum_permissible_error` IS NOT NULL;--> statement-breakpoint
ALTER TABLE `instruments` DROP COLUMN `maximum_permissible_error`;--> statement-breakpoint
CREATE TABLE `standards_new` (
	`id` text PRIMARY KEY NOT NULL,
	`identification` text NOT NULL,
	`kind` text NOT NULL,
	`designation` text NOT NULL,
	`place` text NOT NULL,
	`due` text,
	`document` text NOT NULL
);--> statement-breakpoint
INSERT INTO `standards_new` SELECT s.`id`, s.`identification`, s.`kind`, s.`designation`, s.`place`, s.`due`,
	json_object(
		'format', 'just-twice/standard', 'version', 1,
		'identification', s.`identification`, 'kind', s.`kind`, 'designation', s.`designation`,
		'certificate', json_object('issuer', s.`certificate_issuer`, 'number', s.`certificate_number`, 'date', s.`certificate_date`, 'due', s.`due`),
		'unit', 'mm',
		'items', (
			SELECT json_group_array(json_object(
				'id', i.`id`, 'marking', i.`marking`, 'nominal', i.`nominal`, 'certified', i.`certified`,
				'expandedUncertainty', i.`expanded_uncertainty`, 'coverageFactor', i.`coverage_factor`,
				'properties', json_object('expansionCoefficient', i.`expansion_coefficient`)
			)) FROM (SELECT * FROM `standard_items` WHERE `standard_id` = s.`id` ORDER BY `nominal`) i
		)
	) FROM `standards` s;--> statement-breakpoint
DROP TABLE `standard_items`;--> statement-breakpoint
CREATE TABLE `runs_new` (
	`id` text PRIMARY KEY NOT NULL,
	`instrument_id` text NOT NULL,
	`procedure_id` text NOT NULL,
	`procedure_revision` integer NOT NULL,
	`status` text NOT NULL,
	`started_at` text NOT NULL,
	`finished_at` text,
	`certificate` text,
	`is_reviewed` integer DEFAULT false NOT NULL,
	`summary` text,
	FOREIGN KEY (`instrument_id`) REFERENCES `instruments`(`id`) ON UPDATE no action ON DELETE no action
);--> statement-breakpoint
INSERT INTO `runs_new` SELECT `id`, `instrument_id`, `procedure_id`, `procedure_revision`, `status`, `started_at`, `finished_at`, `certificate`, `is_reviewed`,
	CASE WHEN `summary` IS NULL THEN NULL ELSE json_object(
		'found', CASE WHEN json_type(`summary`, '$.found') = 'object' THEN json_object(
			'verdict', json_extract(`summary`, '$.found.verdict'), 'what', 'Error',
			'point', printf('%.1f mm', json_extract(`summary`, '$.found.nominal')),
			'value', json_extract(`summary`, '$.found.error'),
			'expandedUncertainty', json_extract(`summary`, '$.found.expandedUncertainty'),
			'lower', -json_extract(`summary`, '$.found.limit'), 'upper', json_extract(`summary`, '$.found.limit'),
			'toleranceUsed', json_extract(`summary`, '$.found.toleranceUsed'), 'unit', 'mm', 'shownIn', 'um') END,
		'left', CASE WHEN json_type(`summary`, '$.left') = 'object' THEN json_object(
			'verdict', json_extract(`summary`, '$.left.verdict'), 'what', 'Error',
			'point', printf('%.1f mm', json_extract(`summary`, '$.left.nominal')),
			'value', json_extract(`summary`, '$.left.error'),
			'expandedUncertainty', json_extract(`summary`, '$.left.expandedUncertainty'),
			'lower', -json_extract(`summary`, '$.left.limit'), 'upper', json_extract(`summary`, '$.left.limit'),
			'toleranceUsed', json_extract(`summary`, '$.left.toleranceUsed'), 'unit', 'mm', 'shownIn', 'um') END,
		'adjusted', json(CASE json_extract(`summary`, '$.adjusted') WHEN 1 THEN 'true' ELSE 'false' END)
	) END FROM `runs`;--> statement-breakpoint
CREATE TABLE `run_standards` (
	`run_id` text NOT NULL,
	`role` text NOT NULL,
	`standard_id` text NOT NULL,
	PRIMARY KEY(`run_id`, `role`, `standard_id`),
	FOREIGN KEY (`run_id`) REFERENCES `runs`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`standard_id`) REFERENCES `standards`(`id`) ON UPDATE no action ON DELETE no action
);--> statement-breakpoint
INSERT INTO `run_standards` SELECT `id`, 'standard', `standard_id` FROM `runs`;--> statement-breakpoint
DROP TABLE `runs`;--> statement-breakpoint
ALTER TABLE `runs_new` RENAME TO `runs`;--> statement-breakpoint
CREATE UNIQUE INDEX `runs_certificate_unique` ON `runs` (`certificate`);--> statement-breakpoint
CREATE INDEX `runs_instrument` ON `runs` (`instrument_id`,`started_at`);--> statement-breakpoint
CREATE UNIQUE INDEX `runs_one_open_per_instrument` ON `runs` (`instrument_id`) WHERE status = 'open';--> statement-breakpoint
CREATE INDEX `run_standards_standard` ON `run_standards` (`standard_id`);--> statement-breakpoint
DROP TABLE `standards`;--> statement-breakpoint
ALTER TABLE `standards_new` RENAME TO `standards`;--> statement-breakpoint
CREATE UNIQUE INDEX `standards_identification_unique` ON `standards` (`identification`);--> statement-breakpoint
CREATE TABLE `former_certificates` (
	`standard_id` text NOT NULL,
	`number` text NOT NULL,
	`replaced_at` text NOT NULL,
	`document` text NOT NULL,
	PRIMARY KEY(`standard_id`, `number`, `replaced_at`),
	FOREIGN KEY (`standard_id`) REFERENCES `standards`(`id`) ON UPDATE no action ON DELETE no action
);--> statement-breakpoint
ALTER TABLE `events` ADD `done` text;
