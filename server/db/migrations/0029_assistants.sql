CREATE TABLE `assistant` (
	`id` int NOT NULL,
	`name` varchar(60) NOT NULL,
	`url` varchar(500) NOT NULL,
	`is_on` boolean NOT NULL,
	`section_ids` json,
	`revision` int NOT NULL DEFAULT 1,
	CONSTRAINT `assistant_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `assistant_errand` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`by_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`errand` varchar(20) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(60) NOT NULL,
	`url` varchar(500) NOT NULL,
	`body` mediumtext NOT NULL,
	`at` datetime(3) NOT NULL,
	`standing` varchar(10) character set ascii collate ascii_bin NOT NULL,
	`attempts` int NOT NULL DEFAULT 0,
	`brought` json,
	`problem` varchar(300),
	`cost` varchar(60),
	`answered_at` datetime(3),
	`ended_by_id` char(36) character set ascii collate ascii_bin,
	`ended_at` datetime(3),
	CONSTRAINT `assistant_errand_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `stand_in_assistant` (
	`id` int NOT NULL,
	`mood` varchar(20) character set ascii collate ascii_bin NOT NULL,
	CONSTRAINT `stand_in_assistant_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `feed_entry` (
	`feed_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`key` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`seen_at` datetime(3) NOT NULL,
	CONSTRAINT `feed_entry_feed_id_key_pk` PRIMARY KEY(`feed_id`,`key`)
);
--> statement-breakpoint
ALTER TABLE `intake_item` MODIFY COLUMN `reason` varchar(4000);--> statement-breakpoint
ALTER TABLE `assistant_errand` ADD CONSTRAINT `assistant_errand_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `assistant_errand` ADD CONSTRAINT `assistant_errand_by_id_person_id_fk` FOREIGN KEY (`by_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `assistant_errand` ADD CONSTRAINT `assistant_errand_ended_by_id_person_id_fk` FOREIGN KEY (`ended_by_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `feed_entry` ADD CONSTRAINT `feed_entry_feed_id_feed_id_fk` FOREIGN KEY (`feed_id`) REFERENCES `feed`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `assistant_errand_piece` ON `assistant_errand` (`piece_id`,`at`);--> statement-breakpoint
CREATE INDEX `assistant_errand_at` ON `assistant_errand` (`at`);--> statement-breakpoint
INSERT IGNORE INTO `feed_entry` (`feed_id`, `key`, `seen_at`) SELECT `feed_id`, `feed_key`, `at` FROM `intake_item` WHERE `feed_id` IS NOT NULL AND `feed_key` IS NOT NULL;
--> statement-breakpoint
INSERT IGNORE INTO `role_permission` (`role_id`, `permission`) SELECT `role_id`, 'assistant.ask' FROM `role_permission` WHERE `permission` = 'access.edit';
