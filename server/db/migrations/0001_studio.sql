CREATE TABLE `workflow_adoption` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`workflow_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`document` json NOT NULL,
	`choices` json NOT NULL,
	`acknowledged` json NOT NULL,
	`at` datetime(3) NOT NULL,
	`status` varchar(10) character set ascii collate ascii_bin NOT NULL,
	`reason` varchar(600),
	`planned_by` char(36) character set ascii collate ascii_bin NOT NULL,
	`lease_owner` varchar(40) character set ascii collate ascii_bin,
	`lease_until` datetime(3),
	CONSTRAINT `workflow_adoption_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `workflow_binding` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`scope` varchar(20) character set ascii collate ascii_bin NOT NULL,
	`scope_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`workflow_id` char(36) character set ascii collate ascii_bin NOT NULL,
	CONSTRAINT `workflow_binding_id` PRIMARY KEY(`id`),
	CONSTRAINT `workflow_binding_scope` UNIQUE(`scope`,`scope_id`)
);
--> statement-breakpoint
CREATE TABLE `workflow_copy` (
	`workflow_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`document` json NOT NULL,
	`holder_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`touched_at` datetime(3) NOT NULL,
	`revision` int NOT NULL DEFAULT 1,
	CONSTRAINT `workflow_copy_workflow_id` PRIMARY KEY(`workflow_id`)
);
--> statement-breakpoint
INSERT INTO `workflow_binding` SELECT UUID(), 'publication', `id`, `workflow_id` FROM `publication` WHERE `workflow_id` IS NOT NULL;--> statement-breakpoint
INSERT INTO `workflow_binding` SELECT UUID(), 'section', `id`, `workflow_id` FROM `section` WHERE `workflow_id` IS NOT NULL;--> statement-breakpoint
ALTER TABLE `publication` DROP FOREIGN KEY `publication_workflow_id_workflow_id_fk`;
--> statement-breakpoint
ALTER TABLE `section` DROP FOREIGN KEY `section_workflow_id_workflow_id_fk`;
--> statement-breakpoint
ALTER TABLE `workflow` ADD `valid_from` date;--> statement-breakpoint
ALTER TABLE `workflow` ADD `valid_until` date;--> statement-breakpoint
ALTER TABLE `workflow` ADD `retired_at` datetime(3);--> statement-breakpoint
ALTER TABLE `workflow_revision` ADD `acknowledged` json NOT NULL DEFAULT '[]';--> statement-breakpoint
ALTER TABLE `workflow_adoption` ADD CONSTRAINT `workflow_adoption_workflow_id_workflow_id_fk` FOREIGN KEY (`workflow_id`) REFERENCES `workflow`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `workflow_adoption` ADD CONSTRAINT `workflow_adoption_planned_by_person_id_fk` FOREIGN KEY (`planned_by`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `workflow_binding` ADD CONSTRAINT `workflow_binding_workflow_id_workflow_id_fk` FOREIGN KEY (`workflow_id`) REFERENCES `workflow`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `workflow_copy` ADD CONSTRAINT `workflow_copy_workflow_id_workflow_id_fk` FOREIGN KEY (`workflow_id`) REFERENCES `workflow`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `workflow_copy` ADD CONSTRAINT `workflow_copy_holder_id_person_id_fk` FOREIGN KEY (`holder_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `workflow_adoption_due` ON `workflow_adoption` (`status`,`at`);--> statement-breakpoint
CREATE INDEX `workflow_adoption_workflow` ON `workflow_adoption` (`workflow_id`,`status`);--> statement-breakpoint
CREATE INDEX `workflow_binding_workflow` ON `workflow_binding` (`workflow_id`);--> statement-breakpoint
CREATE INDEX `piece_revision` ON `piece` (`workflow_revision_id`,`state_key`,`id`);--> statement-breakpoint
ALTER TABLE `publication` DROP COLUMN `workflow_id`;--> statement-breakpoint
ALTER TABLE `section` DROP COLUMN `workflow_id`;