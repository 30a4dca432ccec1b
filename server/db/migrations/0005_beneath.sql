CREATE TABLE `released` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`channel` varchar(20) character set ascii collate ascii_bin NOT NULL,
	`version_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`from_at` datetime(3) NOT NULL,
	`until_at` datetime(3),
	`notice` varchar(500),
	CONSTRAINT `released_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `task` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`kind` varchar(20) character set ascii collate ascii_bin NOT NULL,
	`subject` varchar(80) character set ascii collate ascii_bin NOT NULL,
	`due_at` datetime(3) NOT NULL,
	`attempts` int NOT NULL DEFAULT 0,
	`lease_owner` varchar(40) character set ascii collate ascii_bin,
	`lease_until` datetime(3),
	CONSTRAINT `task_id` PRIMARY KEY(`id`),
	CONSTRAINT `task_subject` UNIQUE(`kind`,`subject`)
);
--> statement-breakpoint
ALTER TABLE `notice` DROP INDEX `notice_once`;--> statement-breakpoint
DROP INDEX `piece_thin` ON `piece`;--> statement-breakpoint
DROP INDEX `workflow_adoption_due` ON `workflow_adoption`;--> statement-breakpoint
DROP INDEX `outbox_due` ON `outbox`;--> statement-breakpoint
UPDATE `seat` SET `void_reason` = CASE WHEN `void_reason` LIKE 'the author%' THEN 'author' WHEN `void_reason` LIKE 'the guest%' THEN 'guest-over' ELSE 'seated' END WHERE `void_reason` IS NOT NULL;--> statement-breakpoint
UPDATE `seat` SET `flag` = IF(`flag` LIKE '%no longer works here', 'left', 'away') WHERE `flag` IS NOT NULL;--> statement-breakpoint
ALTER TABLE `seat` MODIFY COLUMN `void_reason` varchar(20) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `seat` MODIFY COLUMN `flag` varchar(20) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `outbox` MODIFY COLUMN `subject` varchar(600);--> statement-breakpoint
ALTER TABLE `outbox` MODIFY COLUMN `body` text;--> statement-breakpoint
ALTER TABLE `person` ADD `zone` varchar(60);--> statement-breakpoint
ALTER TABLE `assignment` ADD `for_person_id` char(36) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `piece` ADD `deleted_by` char(36) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `piece` ADD `erased_at` datetime(3);--> statement-breakpoint
ALTER TABLE `piece` ADD `overridden_at` datetime(3);--> statement-breakpoint
ALTER TABLE `piece` ADD `due_chosen` boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `round` ADD `stuck` varchar(20) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `stay` ADD `workflow_revision_id` char(36) character set ascii collate ascii_bin NOT NULL;--> statement-breakpoint
ALTER TABLE `stay` ADD `section_id` char(36) character set ascii collate ascii_bin NOT NULL;--> statement-breakpoint
ALTER TABLE `stay` ADD `kind_id` char(36) character set ascii collate ascii_bin NOT NULL;--> statement-breakpoint
ALTER TABLE `version` ADD `bound_hash` varchar(64) character set ascii collate ascii_bin NOT NULL;--> statement-breakpoint
ALTER TABLE `publication` ADD `revision` int DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE `ledger` ADD `erased_by` bigint;--> statement-breakpoint
ALTER TABLE `notice` ADD `part` varchar(20) character set ascii collate ascii_bin NOT NULL;--> statement-breakpoint
ALTER TABLE `notice` ADD `params` json;--> statement-breakpoint
ALTER TABLE `notice` ADD `said` text;--> statement-breakpoint
ALTER TABLE `planned_release` ADD `confirmed_by` char(36) character set ascii collate ascii_bin;--> statement-breakpoint
UPDATE `stay` INNER JOIN `piece` ON `piece`.`id` = `stay`.`piece_id` SET `stay`.`workflow_revision_id` = `piece`.`workflow_revision_id`, `stay`.`section_id` = `piece`.`section_id`, `stay`.`kind_id` = `piece`.`kind_id`;--> statement-breakpoint
UPDATE `version` SET `bound_hash` = `hash`;--> statement-breakpoint
UPDATE `notice` SET `said` = IF(`note` = '', `headline`, CONCAT(`headline`, '\n', `note`));--> statement-breakpoint
UPDATE `planned_release` SET `confirmed_by` = `planned_by`;--> statement-breakpoint
UPDATE `planned_release` SET `status` = 'proposed', `confirmed_by` = NULL WHERE `status` = 'planned' AND `planned_by` NOT IN (SELECT DISTINCT COALESCE(`g`.`person_id`, `m`.`person_id`) FROM `access_grant` `g` LEFT JOIN `group_member` `m` ON `m`.`group_id` = `g`.`group_id` INNER JOIN `role_permission` `p` ON `p`.`role_id` = `g`.`role_id` WHERE `p`.`permission` = 'piece.release' AND COALESCE(`g`.`person_id`, `m`.`person_id`) IS NOT NULL);--> statement-breakpoint
INSERT INTO `released` (`id`, `piece_id`, `channel`, `version_id`, `from_at`) SELECT UUID(), `id`, 'site', `live_version_id`, COALESCE(`live_at`, `created_at`) FROM `piece` WHERE `live_version_id` IS NOT NULL;--> statement-breakpoint
INSERT INTO `task` (`id`, `kind`, `subject`, `due_at`) SELECT UUID(), 'release', `id`, `at` FROM `planned_release` WHERE `status` = 'planned';--> statement-breakpoint
INSERT INTO `task` (`id`, `kind`, `subject`, `due_at`, `attempts`) SELECT UUID(), 'mail', `id`, `next_at`, `attempts` FROM `outbox` WHERE `status` = 'waiting';--> statement-breakpoint
INSERT INTO `task` (`id`, `kind`, `subject`, `due_at`) SELECT UUID(), 'adoption', `id`, `at` FROM `workflow_adoption` WHERE `status` = 'planned';--> statement-breakpoint
INSERT INTO `task` (`id`, `kind`, `subject`, `due_at`) SELECT UUID(), 'thinning', `id`, `thin_at` FROM `piece` WHERE `thin_at` IS NOT NULL;--> statement-breakpoint
INSERT INTO `task` (`id`, `kind`, `subject`, `due_at`) SELECT UUID(), 'absence', `person_id`, MIN(`from_date`) FROM `absence` WHERE `until_date` >= CURDATE() - INTERVAL 1 DAY GROUP BY `person_id`;--> statement-breakpoint
INSERT INTO `task` (`id`, `kind`, `subject`, `due_at`) SELECT UUID(), 'guest', `guest_id`, MAX(`expires_at`) FROM `guest_link` WHERE `revoked_at` IS NULL GROUP BY `guest_id`;--> statement-breakpoint
INSERT INTO `task` (`id`, `kind`, `subject`, `due_at`) SELECT UUID(), 'access', `id`, UTC_TIMESTAMP(3) FROM `person` WHERE `active` = 1 AND `guest` = 0;--> statement-breakpoint
INSERT IGNORE INTO `role_permission` (`role_id`, `permission`) SELECT `r`.`role_id`, `n`.`permission` FROM (SELECT `role_id` FROM `role_permission` WHERE `permission` IN ('workflow.edit', 'access.edit') GROUP BY `role_id` HAVING COUNT(*) = 2) `r` CROSS JOIN (SELECT 'piece.route' AS `permission` UNION SELECT 'piece.override' UNION SELECT 'piece.delete' UNION SELECT 'piece.erase' UNION SELECT 'publication.edit') `n`;--> statement-breakpoint
INSERT IGNORE INTO `role_permission` (`role_id`, `permission`) SELECT `r`.`role_id`, `n`.`permission` FROM (SELECT `role_id` FROM `role_permission` WHERE `permission` IN ('piece.create', 'piece.schedule') GROUP BY `role_id` HAVING COUNT(*) = 2) `r` CROSS JOIN (SELECT 'piece.route' AS `permission` UNION SELECT 'piece.delete') `n`;--> statement-breakpoint
INSERT IGNORE INTO `role_permission` (`role_id`, `permission`) SELECT `role_id`, 'piece.delete.own' FROM `role_permission` WHERE `permission` = 'piece.edit.own';--> statement-breakpoint
ALTER TABLE `notice` ADD CONSTRAINT `notice_once` UNIQUE(`seq`,`person_id`,`part`);--> statement-breakpoint
ALTER TABLE `released` ADD CONSTRAINT `released_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `released` ADD CONSTRAINT `released_version_id_version_id_fk` FOREIGN KEY (`version_id`) REFERENCES `version`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `released_piece` ON `released` (`piece_id`,`channel`,`until_at`);--> statement-breakpoint
CREATE INDEX `released_channel` ON `released` (`channel`,`until_at`,`from_at`);--> statement-breakpoint
CREATE INDEX `task_due` ON `task` (`kind`,`due_at`);--> statement-breakpoint
ALTER TABLE `assignment` ADD CONSTRAINT `assignment_for_person_id_person_id_fk` FOREIGN KEY (`for_person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `piece` ADD CONSTRAINT `piece_deleted_by_person_id_fk` FOREIGN KEY (`deleted_by`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `stay` ADD CONSTRAINT `stay_workflow_revision_id_workflow_revision_id_fk` FOREIGN KEY (`workflow_revision_id`) REFERENCES `workflow_revision`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `stay` ADD CONSTRAINT `stay_section_id_section_id_fk` FOREIGN KEY (`section_id`) REFERENCES `section`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `stay` ADD CONSTRAINT `stay_kind_id_kind_id_fk` FOREIGN KEY (`kind_id`) REFERENCES `kind`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `planned_release` ADD CONSTRAINT `planned_release_confirmed_by_person_id_fk` FOREIGN KEY (`confirmed_by`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `assignment_for` ON `assignment` (`for_person_id`);--> statement-breakpoint
CREATE INDEX `piece_deleted` ON `piece` (`deleted_at`,`id`);--> statement-breakpoint
CREATE INDEX `piece_overridden` ON `piece` (`overridden_at`,`id`);--> statement-breakpoint
CREATE INDEX `round_open` ON `round` (`closed_at`,`stuck`);--> statement-breakpoint
CREATE INDEX `stay_state` ON `stay` (`state_key`,`arrived_at`);--> statement-breakpoint
CREATE INDEX `outbox_status` ON `outbox` (`status`);--> statement-breakpoint
ALTER TABLE `piece` DROP COLUMN `thin_at`;--> statement-breakpoint
ALTER TABLE `workflow_adoption` DROP COLUMN `lease_owner`;--> statement-breakpoint
ALTER TABLE `workflow_adoption` DROP COLUMN `lease_until`;--> statement-breakpoint
ALTER TABLE `notice` DROP COLUMN `kind`;--> statement-breakpoint
ALTER TABLE `notice` DROP COLUMN `headline`;--> statement-breakpoint
ALTER TABLE `notice` DROP COLUMN `note`;--> statement-breakpoint
ALTER TABLE `outbox` DROP COLUMN `next_at`;--> statement-breakpoint
ALTER TABLE `outbox` DROP COLUMN `lease_owner`;--> statement-breakpoint
ALTER TABLE `outbox` DROP COLUMN `lease_until`;--> statement-breakpoint
ALTER TABLE `planned_release` DROP COLUMN `lease_owner`;--> statement-breakpoint
ALTER TABLE `planned_release` DROP COLUMN `lease_until`;