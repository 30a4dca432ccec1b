CREATE TABLE `list_columns` (
	`person_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`columns` json NOT NULL,
	CONSTRAINT `list_columns_person_id` PRIMARY KEY(`person_id`)
);
--> statement-breakpoint
ALTER TABLE `list_columns` ADD CONSTRAINT `list_columns_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE cascade ON UPDATE no action;