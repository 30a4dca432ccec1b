CREATE TABLE `rule` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`key` varchar(60) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(120) NOT NULL,
	`hears` json NOT NULL,
	`asks` json NOT NULL,
	`does` json NOT NULL,
	`is_on` boolean NOT NULL DEFAULT false,
	`maker_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`changed_at` datetime(3) NOT NULL,
	`since` bigint NOT NULL,
	`revision` int NOT NULL DEFAULT 1,
	CONSTRAINT `rule_id` PRIMARY KEY(`id`),
	CONSTRAINT `rule_key_unique` UNIQUE(`key`)
);
--> statement-breakpoint
CREATE TABLE `rule_cursor` (
	`id` int NOT NULL,
	`seq` bigint NOT NULL,
	`due_up_to` datetime(3) NOT NULL,
	CONSTRAINT `rule_cursor_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `rule_run` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`rule_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`chain` bigint NOT NULL,
	`at` datetime(3) NOT NULL,
	`did` json,
	`tries` int NOT NULL DEFAULT 0,
	CONSTRAINT `rule_run_id` PRIMARY KEY(`id`),
	CONSTRAINT `rule_run_once` UNIQUE(`rule_id`,`piece_id`,`chain`)
);
--> statement-breakpoint
ALTER TABLE `rule` ADD CONSTRAINT `rule_maker_id_person_id_fk` FOREIGN KEY (`maker_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `rule_run` ADD CONSTRAINT `rule_run_rule_id_rule_id_fk` FOREIGN KEY (`rule_id`) REFERENCES `rule`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `rule_run` ADD CONSTRAINT `rule_run_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `rule_run_piece` ON `rule_run` (`piece_id`,`at`);--> statement-breakpoint
CREATE INDEX `rule_run_rule` ON `rule_run` (`rule_id`,`at`);