CREATE TABLE `saved_filter` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`owner_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(40) NOT NULL,
	`query` varchar(1000) NOT NULL,
	`shared` boolean NOT NULL,
	`created_at` datetime(3) NOT NULL,
	CONSTRAINT `saved_filter_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `search_entry` (
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`source` varchar(10) character set ascii collate ascii_bin NOT NULL,
	`source_id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`person_id` char(36) character set ascii collate ascii_bin,
	`at` datetime(3) NOT NULL,
	`words` longtext NOT NULL,
	CONSTRAINT `search_entry_piece_id_source_source_id_pk` PRIMARY KEY(`piece_id`,`source`,`source_id`)
);
--> statement-breakpoint
ALTER TABLE `saved_filter` ADD CONSTRAINT `saved_filter_owner_id_person_id_fk` FOREIGN KEY (`owner_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `search_entry` ADD CONSTRAINT `search_entry_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `search_entry` ADD CONSTRAINT `search_entry_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `saved_filter_owner` ON `saved_filter` (`owner_id`);--> statement-breakpoint
CREATE INDEX `saved_filter_shared` ON `saved_filter` (`shared`);--> statement-breakpoint
ALTER TABLE `search_entry` ADD FULLTEXT INDEX `search_entry_words` (`words`);
--> statement-breakpoint
-- What was written before can be found too: a task for each piece.
INSERT IGNORE INTO `task` (`id`, `kind`, `subject`, `due_at`, `attempts`) SELECT UUID(), 'search', `id`, '2000-01-01', 0 FROM `piece`;
