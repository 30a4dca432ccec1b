CREATE TABLE `rule_call` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`rule_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`url` varchar(500) NOT NULL,
	`body` text NOT NULL,
	`at` datetime(3) NOT NULL,
	`status` varchar(10) character set ascii collate ascii_bin NOT NULL,
	`attempts` int NOT NULL DEFAULT 0,
	`answer` varchar(300),
	`taken_at` datetime(3),
	CONSTRAINT `rule_call_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `standin_call` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`at` datetime(3) NOT NULL,
	`signature` varchar(200) NOT NULL,
	`timestamp` varchar(40) NOT NULL,
	`body` text NOT NULL,
	CONSTRAINT `standin_call_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
ALTER TABLE `rule_call` ADD CONSTRAINT `rule_call_rule_id_rule_id_fk` FOREIGN KEY (`rule_id`) REFERENCES `rule`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `rule_call` ADD CONSTRAINT `rule_call_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `rule_call_rule` ON `rule_call` (`rule_id`,`at`);--> statement-breakpoint
CREATE INDEX `rule_call_piece` ON `rule_call` (`piece_id`);