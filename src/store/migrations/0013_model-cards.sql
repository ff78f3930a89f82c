CREATE TABLE `model_cards` (
	`kind` text NOT NULL,
	`model` text NOT NULL,
	`version` integer NOT NULL,
	`lines` text NOT NULL,
	`at` text NOT NULL,
	`person` text NOT NULL,
	PRIMARY KEY(`kind`, `model`, `version`)
);
--> statement-breakpoint
CREATE TRIGGER `model_cards_never_changed` BEFORE UPDATE ON `model_cards` BEGIN SELECT RAISE(ABORT, 'Cards are appended, never changed.'); END;--> statement-breakpoint
CREATE TRIGGER `model_cards_never_removed` BEFORE DELETE ON `model_cards` BEGIN SELECT RAISE(ABORT, 'Cards are appended, never removed.'); END;
