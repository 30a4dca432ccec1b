CREATE TABLE `chat_channel` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`scope` varchar(10) character set ascii collate ascii_bin NOT NULL,
	`scope_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`address` varchar(1000) NOT NULL,
	`topics` json NOT NULL,
	CONSTRAINT `chat_channel_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `chat_line` (
	`message_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`seq` bigint NOT NULL,
	`part` varchar(20) character set ascii collate ascii_bin NOT NULL,
	CONSTRAINT `chat_line_message_id_seq_part_pk` PRIMARY KEY(`message_id`,`seq`,`part`)
);
--> statement-breakpoint
CREATE TABLE `wording` (
	`event` varchar(40) character set ascii collate ascii_bin NOT NULL,
	`part` varchar(20) character set ascii collate ascii_bin NOT NULL,
	`place` varchar(8) character set ascii collate ascii_bin NOT NULL,
	`headline` varchar(200) NOT NULL,
	`body` text NOT NULL,
	CONSTRAINT `wording_event_part_place_pk` PRIMARY KEY(`event`,`part`,`place`)
);
--> statement-breakpoint
ALTER TABLE `person` ADD `looked_at` datetime(3);--> statement-breakpoint
ALTER TABLE `notice` ADD `batch_id` char(36) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `outbox` ADD `batch_id` char(36) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `outbox` ADD `channel_id` char(36) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `bundle_item` ADD `doing` json;--> statement-breakpoint
ALTER TABLE `chat_line` ADD CONSTRAINT `chat_line_message_id_outbox_id_fk` FOREIGN KEY (`message_id`) REFERENCES `outbox`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `outbox` ADD CONSTRAINT `outbox_channel_id_chat_channel_id_fk` FOREIGN KEY (`channel_id`) REFERENCES `chat_channel`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `outbox_channel` ON `outbox` (`channel_id`,`status`);