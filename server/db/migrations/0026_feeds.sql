CREATE TABLE `feed` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(80) NOT NULL,
	`url` varchar(500) NOT NULL,
	`section_id` char(36) character set ascii collate ascii_bin,
	`kind_id` char(36) character set ascii collate ascii_bin,
	`holder_id` char(36) character set ascii collate ascii_bin,
	`keep_days` int NOT NULL DEFAULT 30,
	`etag` varchar(300),
	`modified` varchar(100),
	`checked_at` datetime(3),
	`failures` int NOT NULL DEFAULT 0,
	`problem` varchar(300),
	`revision` int NOT NULL DEFAULT 1,
	CONSTRAINT `feed_id` PRIMARY KEY(`id`),
	CONSTRAINT `feed_url_unique` UNIQUE(`url`)
);
--> statement-breakpoint
ALTER TABLE `intake_item` ADD `feed_id` char(36) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `intake_item` ADD `feed_key` varchar(64) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `intake_item` ADD `source` varchar(1000);--> statement-breakpoint
ALTER TABLE `intake_item` ADD CONSTRAINT `intake_item_feed` UNIQUE(`feed_id`,`feed_key`);--> statement-breakpoint
ALTER TABLE `feed` ADD CONSTRAINT `feed_section_id_section_id_fk` FOREIGN KEY (`section_id`) REFERENCES `section`(`id`) ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `feed` ADD CONSTRAINT `feed_kind_id_kind_id_fk` FOREIGN KEY (`kind_id`) REFERENCES `kind`(`id`) ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `feed` ADD CONSTRAINT `feed_holder_id_person_id_fk` FOREIGN KEY (`holder_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `intake_item` ADD CONSTRAINT `intake_item_feed_id_feed_id_fk` FOREIGN KEY (`feed_id`) REFERENCES `feed`(`id`) ON DELETE set null ON UPDATE no action;