CREATE TABLE `thread` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`author_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`kind` varchar(40) character set ascii collate ascii_bin,
	`field` varchar(80) character set ascii collate ascii_bin,
	`picture` varchar(64) character set ascii collate ascii_bin,
	`anchor` json,
	`made_on` text,
	`proposal` json,
	`version` int NOT NULL,
	`round_id` char(36) character set ascii collate ascii_bin,
	`created_at` datetime(3) NOT NULL,
	`sent_at` datetime(3),
	`pinned_at` datetime(3),
	`settled_at` datetime(3),
	`settled_by` char(36) character set ascii collate ascii_bin,
	`outcome` varchar(10) character set ascii collate ascii_bin,
	CONSTRAINT `thread_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
ALTER TABLE `comment` DROP FOREIGN KEY `comment_version_id_version_id_fk`;
--> statement-breakpoint
ALTER TABLE `comment` DROP FOREIGN KEY `comment_settled_by_person_id_fk`;
--> statement-breakpoint
DROP INDEX `comment_open` ON `comment`;--> statement-breakpoint
ALTER TABLE `comment` ADD `thread_id` char(36) character set ascii collate ascii_bin NOT NULL;--> statement-breakpoint
ALTER TABLE `comment` ADD `edited_at` datetime(3);--> statement-breakpoint
ALTER TABLE `comment` ADD `taken_back_at` datetime(3);--> statement-breakpoint
ALTER TABLE `publication` ADD `remark_kinds` json;--> statement-breakpoint
-- Every comment there was begins a thread of its own, on the whole piece.
INSERT INTO `thread` (`id`, `piece_id`, `author_id`, `version`, `created_at`, `sent_at`, `settled_at`, `settled_by`, `outcome`) SELECT c.`id`, c.`piece_id`, c.`author_id`, v.`number`, c.`created_at`, c.`created_at`, c.`settled_at`, c.`settled_by`, IF(c.`settled_at` IS NULL, NULL, 'answered') FROM `comment` c INNER JOIN `version` v ON v.`id` = c.`version_id`;--> statement-breakpoint
UPDATE `comment` SET `thread_id` = `id`;--> statement-breakpoint
ALTER TABLE `thread` ADD CONSTRAINT `thread_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `thread` ADD CONSTRAINT `thread_author_id_person_id_fk` FOREIGN KEY (`author_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `thread` ADD CONSTRAINT `thread_round_id_round_id_fk` FOREIGN KEY (`round_id`) REFERENCES `round`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `thread` ADD CONSTRAINT `thread_settled_by_person_id_fk` FOREIGN KEY (`settled_by`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `thread_piece` ON `thread` (`piece_id`,`created_at`);--> statement-breakpoint
CREATE INDEX `thread_open` ON `thread` (`piece_id`,`settled_at`,`sent_at`);--> statement-breakpoint
ALTER TABLE `comment` ADD CONSTRAINT `comment_thread_id_thread_id_fk` FOREIGN KEY (`thread_id`) REFERENCES `thread`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `comment_thread` ON `comment` (`thread_id`,`created_at`);--> statement-breakpoint
ALTER TABLE `comment` DROP COLUMN `version_id`;--> statement-breakpoint
ALTER TABLE `comment` DROP COLUMN `settled_at`;--> statement-breakpoint
ALTER TABLE `comment` DROP COLUMN `settled_by`;