CREATE TABLE `idea_judgement` (
	`item_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`person_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`answers` json NOT NULL,
	`note` varchar(500) NOT NULL,
	`at` datetime(3) NOT NULL,
	CONSTRAINT `idea_judgement_item_id_person_id_pk` PRIMARY KEY(`item_id`,`person_id`)
);
--> statement-breakpoint
CREATE TABLE `intake_item` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`sort` varchar(10) character set ascii collate ascii_bin NOT NULL,
	`standing` varchar(12) character set ascii collate ascii_bin NOT NULL,
	`title` varchar(200) NOT NULL,
	`words` text NOT NULL,
	`content` json,
	`fields` json,
	`form_id` char(36) character set ascii collate ascii_bin,
	`requester_id` char(36) character set ascii collate ascii_bin,
	`by_id` char(36) character set ascii collate ascii_bin,
	`section_id` char(36) character set ascii collate ascii_bin,
	`kind_id` char(36) character set ascii collate ascii_bin,
	`about_id` char(36) character set ascii collate ascii_bin,
	`quote` varchar(600),
	`wished_at` datetime(3),
	`bundle` varchar(80),
	`shortlisted` boolean NOT NULL DEFAULT false,
	`holder_id` char(36) character set ascii collate ascii_bin,
	`at` datetime(3) NOT NULL,
	`due_at` datetime(3),
	`settled_at` datetime(3),
	`settled_by_id` char(36) character set ascii collate ascii_bin,
	`reason` varchar(1000),
	`piece_id` char(36) character set ascii collate ascii_bin,
	`thanked_at` datetime(3),
	`revision` int NOT NULL DEFAULT 1,
	CONSTRAINT `intake_item_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `intake_word` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`item_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`sort` varchar(12) character set ascii collate ascii_bin NOT NULL,
	`by_id` char(36) character set ascii collate ascii_bin,
	`words` text NOT NULL,
	`changes` json,
	`at` datetime(3) NOT NULL,
	CONSTRAINT `intake_word_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `request_form` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`key` varchar(60) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(80) NOT NULL,
	`about` varchar(1000) NOT NULL,
	`kind_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`section_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`channel` varchar(20) character set ascii collate ascii_bin,
	`fields` json NOT NULL,
	`lead` varchar(20) character set ascii collate ascii_bin,
	`promise` varchar(20) character set ascii collate ascii_bin,
	`holder_id` char(36) character set ascii collate ascii_bin,
	`open_to` varchar(10) character set ascii collate ascii_bin NOT NULL,
	`invited` json NOT NULL,
	`is_on` boolean NOT NULL DEFAULT true,
	`revision` int NOT NULL DEFAULT 1,
	CONSTRAINT `request_form_id` PRIMARY KEY(`id`),
	CONSTRAINT `request_form_key_unique` UNIQUE(`key`)
);
--> statement-breakpoint
CREATE TABLE `requester` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`email` varchar(200) NOT NULL,
	`name` varchar(100) NOT NULL,
	CONSTRAINT `requester_id` PRIMARY KEY(`id`),
	CONSTRAINT `requester_email_unique` UNIQUE(`email`)
);
--> statement-breakpoint
CREATE TABLE `requester_key` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`requester_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`sort` varchar(10) character set ascii collate ascii_bin NOT NULL,
	`expires_at` datetime(3) NOT NULL,
	`used_at` datetime(3),
	CONSTRAINT `requester_key_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
ALTER TABLE `publication` ADD `intake` json;--> statement-breakpoint
ALTER TABLE `idea_judgement` ADD CONSTRAINT `idea_judgement_item_id_intake_item_id_fk` FOREIGN KEY (`item_id`) REFERENCES `intake_item`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `idea_judgement` ADD CONSTRAINT `idea_judgement_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `intake_item` ADD CONSTRAINT `intake_item_form_id_request_form_id_fk` FOREIGN KEY (`form_id`) REFERENCES `request_form`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `intake_item` ADD CONSTRAINT `intake_item_requester_id_requester_id_fk` FOREIGN KEY (`requester_id`) REFERENCES `requester`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `intake_item` ADD CONSTRAINT `intake_item_by_id_person_id_fk` FOREIGN KEY (`by_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `intake_item` ADD CONSTRAINT `intake_item_section_id_section_id_fk` FOREIGN KEY (`section_id`) REFERENCES `section`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `intake_item` ADD CONSTRAINT `intake_item_kind_id_kind_id_fk` FOREIGN KEY (`kind_id`) REFERENCES `kind`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `intake_item` ADD CONSTRAINT `intake_item_about_id_piece_id_fk` FOREIGN KEY (`about_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `intake_item` ADD CONSTRAINT `intake_item_holder_id_person_id_fk` FOREIGN KEY (`holder_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `intake_item` ADD CONSTRAINT `intake_item_settled_by_id_person_id_fk` FOREIGN KEY (`settled_by_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `intake_item` ADD CONSTRAINT `intake_item_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `intake_word` ADD CONSTRAINT `intake_word_item_id_intake_item_id_fk` FOREIGN KEY (`item_id`) REFERENCES `intake_item`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `intake_word` ADD CONSTRAINT `intake_word_by_id_person_id_fk` FOREIGN KEY (`by_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `request_form` ADD CONSTRAINT `request_form_kind_id_kind_id_fk` FOREIGN KEY (`kind_id`) REFERENCES `kind`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `request_form` ADD CONSTRAINT `request_form_section_id_section_id_fk` FOREIGN KEY (`section_id`) REFERENCES `section`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `request_form` ADD CONSTRAINT `request_form_holder_id_person_id_fk` FOREIGN KEY (`holder_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `requester_key` ADD CONSTRAINT `requester_key_requester_id_requester_id_fk` FOREIGN KEY (`requester_id`) REFERENCES `requester`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `intake_item_standing` ON `intake_item` (`standing`,`at`,`id`);--> statement-breakpoint
CREATE INDEX `intake_item_sort` ON `intake_item` (`sort`,`standing`,`at`);--> statement-breakpoint
CREATE INDEX `intake_item_requester` ON `intake_item` (`requester_id`,`at`);--> statement-breakpoint
CREATE INDEX `intake_item_piece` ON `intake_item` (`piece_id`);--> statement-breakpoint
CREATE INDEX `intake_item_about` ON `intake_item` (`about_id`);--> statement-breakpoint
CREATE INDEX `intake_item_holder` ON `intake_item` (`holder_id`,`standing`);--> statement-breakpoint
CREATE INDEX `intake_word_item` ON `intake_word` (`item_id`,`at`);--> statement-breakpoint
CREATE INDEX `requester_key_of` ON `requester_key` (`requester_id`);--> statement-breakpoint
CREATE INDEX `requester_key_end` ON `requester_key` (`expires_at`);--> statement-breakpoint
ALTER TABLE `intake_item` ADD FULLTEXT INDEX `intake_item_words` (`title`, `words`);--> statement-breakpoint
INSERT IGNORE INTO `role_permission` (`role_id`, `permission`) SELECT `role_id`, 'intake.judge' FROM `role_permission` WHERE `permission` = 'piece.route';
