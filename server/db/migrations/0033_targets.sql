CREATE TABLE `target` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(80) NOT NULL,
	`wanted` int NOT NULL,
	`kind_id` char(36) character set ascii collate ascii_bin,
	`section_id` char(36) character set ascii collate ascii_bin,
	`from_day` varchar(10) character set ascii collate ascii_bin NOT NULL,
	`until_day` varchar(10) character set ascii collate ascii_bin NOT NULL,
	CONSTRAINT `target_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
ALTER TABLE `target` ADD CONSTRAINT `target_kind_id_kind_id_fk` FOREIGN KEY (`kind_id`) REFERENCES `kind`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `target` ADD CONSTRAINT `target_section_id_section_id_fk` FOREIGN KEY (`section_id`) REFERENCES `section`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `target_until` ON `target` (`until_day`);