CREATE TABLE `edition` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`channel` varchar(20) character set ascii collate ascii_bin NOT NULL,
	`number` int NOT NULL,
	`made_for` datetime(3),
	`at` datetime(3) NOT NULL,
	`closes_at` datetime(3) NOT NULL,
	`status` varchar(10) character set ascii collate ascii_bin NOT NULL,
	`holds` json NOT NULL,
	`parts` json,
	`released_at` datetime(3),
	`revision` int NOT NULL DEFAULT 1,
	CONSTRAINT `edition_id` PRIMARY KEY(`id`),
	CONSTRAINT `edition_number` UNIQUE(`channel`,`number`),
	CONSTRAINT `edition_date` UNIQUE(`channel`,`made_for`)
);
--> statement-breakpoint
CREATE TABLE `edition_item` (
	`edition_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`part` varchar(60) character set ascii collate ascii_bin NOT NULL,
	`position` int NOT NULL,
	`version_id` char(36) character set ascii collate ascii_bin,
	`late` varchar(500),
	`added_by` char(36) character set ascii collate ascii_bin NOT NULL,
	CONSTRAINT `edition_item_edition_id_piece_id_pk` PRIMARY KEY(`edition_id`,`piece_id`)
);
--> statement-breakpoint
CREATE TABLE `edition_signature` (
	`edition_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`signer_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`person_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`at` datetime(3) NOT NULL,
	`hash` varchar(64) character set ascii collate ascii_bin NOT NULL,
	CONSTRAINT `edition_signature_edition_id_signer_id_pk` PRIMARY KEY(`edition_id`,`signer_id`)
);
--> statement-breakpoint
ALTER TABLE `channel` ADD `people` json;--> statement-breakpoint
ALTER TABLE `channel` ADD `editions` json;--> statement-breakpoint
ALTER TABLE `channel` ADD `next_number` int DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE `channel` ADD `position` int DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `channel` ADD `retired_at` datetime(3);--> statement-breakpoint
ALTER TABLE `edition` ADD CONSTRAINT `edition_channel_channel_key_fk` FOREIGN KEY (`channel`) REFERENCES `channel`(`key`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `edition_item` ADD CONSTRAINT `edition_item_edition_id_edition_id_fk` FOREIGN KEY (`edition_id`) REFERENCES `edition`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `edition_item` ADD CONSTRAINT `edition_item_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `edition_item` ADD CONSTRAINT `edition_item_version_id_version_id_fk` FOREIGN KEY (`version_id`) REFERENCES `version`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `edition_item` ADD CONSTRAINT `edition_item_added_by_person_id_fk` FOREIGN KEY (`added_by`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `edition_signature` ADD CONSTRAINT `edition_signature_edition_id_edition_id_fk` FOREIGN KEY (`edition_id`) REFERENCES `edition`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `edition_signature` ADD CONSTRAINT `edition_signature_signer_id_person_id_fk` FOREIGN KEY (`signer_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `edition_signature` ADD CONSTRAINT `edition_signature_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `edition_at` ON `edition` (`status`,`at`);--> statement-breakpoint
CREATE INDEX `edition_item_piece` ON `edition_item` (`piece_id`);--> statement-breakpoint
INSERT IGNORE INTO `role_permission` (`role_id`, `permission`) SELECT `role_id`, 'edition.edit' FROM `role_permission` WHERE `permission` = 'piece.release';
