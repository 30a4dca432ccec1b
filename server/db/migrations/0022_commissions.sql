CREATE TABLE `commission` (
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`by_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`brief` varchar(4000) NOT NULL,
	`at` datetime(3) NOT NULL,
	`taken_at` datetime(3),
	CONSTRAINT `commission_piece_id` PRIMARY KEY(`piece_id`)
);
--> statement-breakpoint
ALTER TABLE `commission` ADD CONSTRAINT `commission_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `commission` ADD CONSTRAINT `commission_by_id_person_id_fk` FOREIGN KEY (`by_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;