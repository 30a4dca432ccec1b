CREATE TABLE `bundle` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`person_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`doing` json NOT NULL,
	`created_at` datetime(3) NOT NULL,
	`started_at` datetime(3),
	CONSTRAINT `bundle_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `bundle_item` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`bundle_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`position` int NOT NULL,
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`revision` int NOT NULL,
	`hash` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`status` varchar(10) character set ascii collate ascii_bin NOT NULL,
	`said` json NOT NULL,
	CONSTRAINT `bundle_item_id` PRIMARY KEY(`id`),
	CONSTRAINT `bundle_place` UNIQUE(`bundle_id`,`position`)
);
--> statement-breakpoint
ALTER TABLE `bundle` ADD CONSTRAINT `bundle_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `bundle_item` ADD CONSTRAINT `bundle_item_bundle_id_bundle_id_fk` FOREIGN KEY (`bundle_id`) REFERENCES `bundle`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `bundle_item` ADD CONSTRAINT `bundle_item_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `bundle_person` ON `bundle` (`person_id`,`created_at`);--> statement-breakpoint
CREATE INDEX `bundle_status` ON `bundle_item` (`bundle_id`,`status`,`position`);