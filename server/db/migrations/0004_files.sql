CREATE TABLE `attachment` (
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`file_id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(200) NOT NULL,
	`description` varchar(1000) NOT NULL,
	`credit` varchar(200) NOT NULL,
	`licence` varchar(200) NOT NULL,
	`added_by` char(36) character set ascii collate ascii_bin NOT NULL,
	`added_at` datetime(3) NOT NULL,
	`removed_at` datetime(3),
	CONSTRAINT `attachment_piece_id_file_id_pk` PRIMARY KEY(`piece_id`,`file_id`)
);
--> statement-breakpoint
CREATE TABLE `file` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`bytes` int NOT NULL,
	`media_type` varchar(100) character set ascii collate ascii_bin NOT NULL,
	`width` int,
	`height` int,
	`created_at` datetime(3) NOT NULL,
	CONSTRAINT `file_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
ALTER TABLE `piece` ADD `thin_at` datetime(3);--> statement-breakpoint
ALTER TABLE `attachment` ADD CONSTRAINT `attachment_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `attachment` ADD CONSTRAINT `attachment_file_id_file_id_fk` FOREIGN KEY (`file_id`) REFERENCES `file`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `attachment` ADD CONSTRAINT `attachment_added_by_person_id_fk` FOREIGN KEY (`added_by`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `attachment_file` ON `attachment` (`file_id`);--> statement-breakpoint
CREATE INDEX `piece_thin` ON `piece` (`thin_at`);--> statement-breakpoint
UPDATE `piece` SET `thin_at` = `created_at`;
