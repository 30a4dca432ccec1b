CREATE TABLE `look` (
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`person_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`version_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`earlier_id` char(36) character set ascii collate ascii_bin,
	`at` datetime(3) NOT NULL,
	CONSTRAINT `look_piece_id_person_id_pk` PRIMARY KEY(`piece_id`,`person_id`)
);
--> statement-breakpoint
CREATE TABLE `text_holder` (
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`person_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`window` char(36) character set ascii collate ascii_bin NOT NULL,
	`since` datetime(3) NOT NULL,
	`heard_at` datetime(3) NOT NULL,
	CONSTRAINT `text_holder_piece_id` PRIMARY KEY(`piece_id`)
);
--> statement-breakpoint
ALTER TABLE `version` ADD `name` varchar(120);--> statement-breakpoint
ALTER TABLE `look` ADD CONSTRAINT `look_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `look` ADD CONSTRAINT `look_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `look` ADD CONSTRAINT `look_version_id_version_id_fk` FOREIGN KEY (`version_id`) REFERENCES `version`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `look` ADD CONSTRAINT `look_earlier_id_version_id_fk` FOREIGN KEY (`earlier_id`) REFERENCES `version`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `text_holder` ADD CONSTRAINT `text_holder_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `text_holder` ADD CONSTRAINT `text_holder_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;