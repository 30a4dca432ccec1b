CREATE TABLE `channel` (
	`key` varchar(20) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(80) NOT NULL,
	`windows` json,
	`lookout` json,
	`revision` int NOT NULL DEFAULT 1,
	CONSTRAINT `channel_key` PRIMARY KEY(`key`)
);
--> statement-breakpoint
ALTER TABLE `piece` ADD `embargo_until` datetime(3);--> statement-breakpoint
ALTER TABLE `planned_release` ADD `channel` varchar(20) character set ascii collate ascii_bin DEFAULT 'site' NOT NULL;--> statement-breakpoint
ALTER TABLE `planned_release` ADD `wished_at` datetime(3);--> statement-breakpoint
ALTER TABLE `planned_release` ADD `outside` varchar(500);--> statement-breakpoint
ALTER TABLE `planned_release` ADD `ends_at` datetime(3);--> statement-breakpoint
ALTER TABLE `planned_release` ADD `correction` varchar(500);--> statement-breakpoint
ALTER TABLE `released` ADD `ends_at` datetime(3);--> statement-breakpoint
ALTER TABLE `released` ADD `instead_id` char(36) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `released` ADD `correction` varchar(500);--> statement-breakpoint
ALTER TABLE `released` ADD CONSTRAINT `released_instead_id_piece_id_fk` FOREIGN KEY (`instead_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
INSERT IGNORE INTO `role_permission` (`role_id`, `permission`) SELECT `role_id`, 'release.outside' FROM `role_permission` WHERE `permission` = 'piece.override';
