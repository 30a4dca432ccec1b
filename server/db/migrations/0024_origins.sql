CREATE TABLE `model_text` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`kind_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(80) NOT NULL,
	`content` json NOT NULL,
	`piece_id` char(36) character set ascii collate ascii_bin,
	`by_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`at` datetime(3) NOT NULL,
	CONSTRAINT `model_text_id` PRIMARY KEY(`id`),
	CONSTRAINT `model_text_name` UNIQUE(`kind_id`,`name`)
);
--> statement-breakpoint
CREATE TABLE `piece_origin` (
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`from_id` char(36) character set ascii collate ascii_bin,
	`model_id` char(36) character set ascii collate ascii_bin,
	CONSTRAINT `piece_origin_piece_id` PRIMARY KEY(`piece_id`)
);
--> statement-breakpoint
ALTER TABLE `model_text` ADD CONSTRAINT `model_text_kind_id_kind_id_fk` FOREIGN KEY (`kind_id`) REFERENCES `kind`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `model_text` ADD CONSTRAINT `model_text_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `model_text` ADD CONSTRAINT `model_text_by_id_person_id_fk` FOREIGN KEY (`by_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `piece_origin` ADD CONSTRAINT `piece_origin_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `piece_origin` ADD CONSTRAINT `piece_origin_from_id_piece_id_fk` FOREIGN KEY (`from_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `piece_origin` ADD CONSTRAINT `piece_origin_model_id_model_text_id_fk` FOREIGN KEY (`model_id`) REFERENCES `model_text`(`id`) ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `piece_origin_from` ON `piece_origin` (`from_id`);--> statement-breakpoint
CREATE INDEX `piece_origin_model` ON `piece_origin` (`model_id`);