CREATE TABLE `account_link` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`person_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`purpose` varchar(10) character set ascii collate ascii_bin NOT NULL,
	`expires_at` datetime(3) NOT NULL,
	`used_at` datetime(3),
	CONSTRAINT `account_link_id` PRIMARY KEY(`id`)
);--> statement-breakpoint
CREATE TABLE `group_member` (
	`group_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`person_id` char(36) character set ascii collate ascii_bin NOT NULL,
	CONSTRAINT `group_member_group_id_person_id_pk` PRIMARY KEY(`group_id`,`person_id`)
);--> statement-breakpoint
CREATE TABLE `person_group` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`key` varchar(60) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(80) NOT NULL,
	CONSTRAINT `person_group_id` PRIMARY KEY(`id`),
	CONSTRAINT `person_group_key_unique` UNIQUE(`key`),
	CONSTRAINT `person_group_name_unique` UNIQUE(`name`)
);--> statement-breakpoint
CREATE TABLE `recovery_code` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`person_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`used_at` datetime(3),
	CONSTRAINT `recovery_code_id` PRIMARY KEY(`id`)
);--> statement-breakpoint
CREATE TABLE `guest_link` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`guest_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`made_by` char(36) character set ascii collate ascii_bin NOT NULL,
	`label` varchar(120) NOT NULL,
	`expires_at` datetime(3) NOT NULL,
	`revoked_at` datetime(3),
	`opened_at` datetime(3),
	CONSTRAINT `guest_link_id` PRIMARY KEY(`id`)
);--> statement-breakpoint
ALTER TABLE `access_grant` MODIFY COLUMN `person_id` char(36) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `outbox` MODIFY COLUMN `notice_id` char(36) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `access_grant` ADD `group_id` char(36) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `person` ADD `guest` boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `person` ADD `totp_secret` varchar(200);--> statement-breakpoint
ALTER TABLE `person` ADD `totp_step` bigint;--> statement-breakpoint
ALTER TABLE `person` ADD `joined_at` datetime(3);--> statement-breakpoint
ALTER TABLE `person` ADD `ended_at` datetime(3);--> statement-breakpoint
ALTER TABLE `role` ADD `second_factor` boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `role` ADD `fixed` boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `role` ADD `revision` int DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE `session` ADD `confirmed` boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE `session` ADD `seeing_as_id` char(36) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `session` ADD `address` varchar(60) DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `session` ADD `agent` varchar(200) DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `kind` ADD `revision` int DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE `account_link` ADD CONSTRAINT `account_link_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `group_member` ADD CONSTRAINT `group_member_group_id_person_group_id_fk` FOREIGN KEY (`group_id`) REFERENCES `person_group`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `group_member` ADD CONSTRAINT `group_member_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `recovery_code` ADD CONSTRAINT `recovery_code_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `guest_link` ADD CONSTRAINT `guest_link_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `guest_link` ADD CONSTRAINT `guest_link_guest_id_person_id_fk` FOREIGN KEY (`guest_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `guest_link` ADD CONSTRAINT `guest_link_made_by_person_id_fk` FOREIGN KEY (`made_by`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `account_link_person` ON `account_link` (`person_id`);--> statement-breakpoint
CREATE INDEX `group_member_person` ON `group_member` (`person_id`);--> statement-breakpoint
CREATE INDEX `recovery_code_person` ON `recovery_code` (`person_id`);--> statement-breakpoint
CREATE INDEX `guest_link_piece` ON `guest_link` (`piece_id`);--> statement-breakpoint
ALTER TABLE `access_grant` ADD CONSTRAINT `access_grant_group_id_person_group_id_fk` FOREIGN KEY (`group_id`) REFERENCES `person_group`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `session` ADD CONSTRAINT `session_seeing_as_id_person_id_fk` FOREIGN KEY (`seeing_as_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `access_grant_group` ON `access_grant` (`group_id`);--> statement-breakpoint
CREATE INDEX `piece_reach` ON `piece` (`section_id`,`in_flight`,`private`,`restricted`,`deleted_at`,`publish_at`);--> statement-breakpoint
DROP INDEX `piece_section` ON `piece`;--> statement-breakpoint
CREATE INDEX `seat_undecided` ON `seat` (`status`,`for_person_id`,`person_id`);--> statement-breakpoint
CREATE INDEX `ledger_action` ON `ledger` (`action`,`seq`);--> statement-breakpoint
CREATE INDEX `ledger_subject` ON `ledger` (`subject_id`,`seq`);--> statement-breakpoint
INSERT INTO `role` (`id`, `key`, `name`, `fixed`) VALUES ('01940000-0000-7000-8000-000000000001', 'guest', 'Guest', true);--> statement-breakpoint
INSERT INTO `role_permission` (`role_id`, `permission`) VALUES ('01940000-0000-7000-8000-000000000001', 'piece.read'), ('01940000-0000-7000-8000-000000000001', 'piece.comment'), ('01940000-0000-7000-8000-000000000001', 'review.decide');--> statement-breakpoint
INSERT INTO `role_permission` (`role_id`, `permission`) SELECT `role_permission`.`role_id`, `added`.`permission` FROM `role_permission` JOIN (SELECT 'section.edit' AS `permission` UNION SELECT 'access.edit' UNION SELECT 'access.see-as' UNION SELECT 'guest.invite') AS `added` WHERE `role_permission`.`permission` = 'workflow.edit';
