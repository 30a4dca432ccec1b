CREATE TABLE `standin_chat` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`at` datetime(3) NOT NULL,
	`body` text NOT NULL,
	CONSTRAINT `standin_chat_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
ALTER TABLE `outbox` DROP FOREIGN KEY `outbox_notice_id_notice_id_fk`;--> statement-breakpoint
ALTER TABLE `outbox` DROP INDEX `outbox_notice_id_unique`;--> statement-breakpoint
ALTER TABLE `person` ADD `telling` json;--> statement-breakpoint
ALTER TABLE `person` ADD `chat_address` varchar(1000);--> statement-breakpoint
ALTER TABLE `person` ADD `calendar_id` varchar(64) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `person` ADD `calendar_secret` varchar(200);--> statement-breakpoint
ALTER TABLE `publication` ADD `telling` json;--> statement-breakpoint
ALTER TABLE `notice` ADD `mail_id` char(36) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `notice` ADD `chat_id` char(36) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `outbox` ADD `route` varchar(8) character set ascii collate ascii_bin DEFAULT 'mail' NOT NULL;--> statement-breakpoint
ALTER TABLE `outbox` ADD `person_id` char(36) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `outbox` ADD `piece_id` char(36) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `outbox` ADD `digest` boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `person` ADD CONSTRAINT `person_calendar_id_unique` UNIQUE(`calendar_id`);--> statement-breakpoint
ALTER TABLE `notice` ADD CONSTRAINT `notice_mail_id_outbox_id_fk` FOREIGN KEY (`mail_id`) REFERENCES `outbox`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `notice` ADD CONSTRAINT `notice_chat_id_outbox_id_fk` FOREIGN KEY (`chat_id`) REFERENCES `outbox`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `outbox` ADD CONSTRAINT `outbox_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `outbox_person` ON `outbox` (`person_id`,`status`,`route`);--> statement-breakpoint
UPDATE `notice` INNER JOIN `outbox` ON `outbox`.`notice_id` = `notice`.`id` SET `notice`.`mail_id` = `outbox`.`id`, `outbox`.`person_id` = `notice`.`person_id`, `outbox`.`piece_id` = `notice`.`piece_id`;--> statement-breakpoint
ALTER TABLE `person` DROP COLUMN `mail_notices`;--> statement-breakpoint
ALTER TABLE `outbox` DROP COLUMN `notice_id`;