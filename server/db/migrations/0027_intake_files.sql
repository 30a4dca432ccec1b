CREATE TABLE `intake_file` (
	`item_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`file_id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(200) NOT NULL,
	CONSTRAINT `intake_file_item_id_file_id_pk` PRIMARY KEY(`item_id`,`file_id`)
);
--> statement-breakpoint
ALTER TABLE `intake_file` ADD CONSTRAINT `intake_file_item_id_intake_item_id_fk` FOREIGN KEY (`item_id`) REFERENCES `intake_item`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `intake_file` ADD CONSTRAINT `intake_file_file_id_file_id_fk` FOREIGN KEY (`file_id`) REFERENCES `file`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `intake_file_file` ON `intake_file` (`file_id`);