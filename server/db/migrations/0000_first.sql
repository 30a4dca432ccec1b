CREATE TABLE `absence` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`person_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`from_date` date NOT NULL,
	`until_date` date NOT NULL,
	CONSTRAINT `absence_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `access_grant` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`person_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`role_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`scope` varchar(20) character set ascii collate ascii_bin NOT NULL,
	`scope_id` char(36) character set ascii collate ascii_bin,
	`from_at` datetime(3),
	`until_at` datetime(3),
	`publish_from` datetime(3),
	`publish_until` datetime(3),
	CONSTRAINT `access_grant_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `form_answer` (
	`key` char(36) character set ascii collate ascii_bin NOT NULL,
	`person_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`answer` varchar(4000) NOT NULL,
	`at` datetime(3) NOT NULL,
	CONSTRAINT `form_answer_key_person_id_pk` PRIMARY KEY(`key`,`person_id`),
	CONSTRAINT `form_answer_at` UNIQUE(`at`,`key`,`person_id`)
);
--> statement-breakpoint
CREATE TABLE `person` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`key` varchar(60) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(120) NOT NULL,
	`email` varchar(200) NOT NULL,
	`password_hash` varchar(200),
	`active` boolean NOT NULL DEFAULT true,
	`stand_in_id` char(36) character set ascii collate ascii_bin,
	`mail_notices` boolean NOT NULL DEFAULT true,
	`revision` int NOT NULL DEFAULT 1,
	CONSTRAINT `person_id` PRIMARY KEY(`id`),
	CONSTRAINT `person_key_unique` UNIQUE(`key`),
	CONSTRAINT `person_email_unique` UNIQUE(`email`)
);
--> statement-breakpoint
CREATE TABLE `role` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`key` varchar(60) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(80) NOT NULL,
	CONSTRAINT `role_id` PRIMARY KEY(`id`),
	CONSTRAINT `role_key_unique` UNIQUE(`key`)
);
--> statement-breakpoint
CREATE TABLE `role_permission` (
	`role_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`permission` varchar(60) character set ascii collate ascii_bin NOT NULL,
	CONSTRAINT `role_permission_role_id_permission_pk` PRIMARY KEY(`role_id`,`permission`)
);
--> statement-breakpoint
CREATE TABLE `session` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`person_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`created_at` datetime(3) NOT NULL,
	`expires_at` datetime(3) NOT NULL,
	CONSTRAINT `session_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `sign_in_failure` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`bucket` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`at` datetime(3) NOT NULL,
	CONSTRAINT `sign_in_failure_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `assignment` (
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`person_id` char(36) character set ascii collate ascii_bin NOT NULL,
	CONSTRAINT `assignment_piece_id_person_id_pk` PRIMARY KEY(`piece_id`,`person_id`)
);
--> statement-breakpoint
CREATE TABLE `checklist_point` (
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`position` int NOT NULL,
	`words` varchar(200) NOT NULL,
	`done_by` char(36) character set ascii collate ascii_bin,
	CONSTRAINT `checklist_point_piece_id_position_pk` PRIMARY KEY(`piece_id`,`position`)
);
--> statement-breakpoint
CREATE TABLE `comment` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`version_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`author_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`body` text NOT NULL,
	`created_at` datetime(3) NOT NULL,
	`settled_at` datetime(3),
	`settled_by` char(36) character set ascii collate ascii_bin,
	CONSTRAINT `comment_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `decision` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`round_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`seat_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`person_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`for_person_id` char(36) character set ascii collate ascii_bin,
	`verdict` varchar(10) character set ascii collate ascii_bin NOT NULL,
	`version_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`note` text NOT NULL,
	`at` datetime(3) NOT NULL,
	CONSTRAINT `decision_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `piece` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`slug` varchar(100) character set ascii collate ascii_bin NOT NULL,
	`title` varchar(400) NOT NULL,
	`section_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`kind_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`author_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`workflow_revision_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`state_key` varchar(60) character set ascii collate ascii_bin NOT NULL,
	`state_kind` varchar(20) character set ascii collate ascii_bin NOT NULL,
	`in_flight` boolean GENERATED ALWAYS AS (state_kind NOT IN ('live', 'closed')) STORED,
	`since` datetime(3) NOT NULL,
	`due_at` datetime(3),
	`urgency` varchar(10) character set ascii collate ascii_bin NOT NULL DEFAULT 'normal',
	`publish_at` datetime(3),
	`private` boolean NOT NULL DEFAULT false,
	`restricted` boolean NOT NULL DEFAULT false,
	`current_version_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`live_version_id` char(36) character set ascii collate ascii_bin,
	`first_live_at` datetime(3),
	`live_at` datetime(3),
	`approved_version_id` char(36) character set ascii collate ascii_bin,
	`revision` int NOT NULL DEFAULT 1,
	`created_at` datetime(3) NOT NULL,
	`deleted_at` datetime(3),
	CONSTRAINT `piece_id` PRIMARY KEY(`id`),
	CONSTRAINT `piece_slug_unique` UNIQUE(`slug`)
);
--> statement-breakpoint
CREATE TABLE `piece_viewer` (
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`principal` varchar(80) character set ascii collate ascii_bin NOT NULL,
	CONSTRAINT `piece_viewer_piece_id_principal_pk` PRIMARY KEY(`piece_id`,`principal`)
);
--> statement-breakpoint
CREATE TABLE `round` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`number` int NOT NULL,
	`state_key` varchar(60) character set ascii collate ascii_bin NOT NULL,
	`rule` varchar(20) character set ascii collate ascii_bin NOT NULL,
	`count` int NOT NULL,
	`version_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`sender_id` char(36) character set ascii collate ascii_bin,
	`note` text NOT NULL,
	`opened_at` datetime(3) NOT NULL,
	`due_at` datetime(3),
	`closed_at` datetime(3),
	`outcome` varchar(20) character set ascii collate ascii_bin,
	CONSTRAINT `round_id` PRIMARY KEY(`id`),
	CONSTRAINT `round_number` UNIQUE(`piece_id`,`number`)
);
--> statement-breakpoint
CREATE TABLE `seat` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`round_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`position` int NOT NULL,
	`person_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`for_person_id` char(36) character set ascii collate ascii_bin,
	`status` varchar(10) character set ascii collate ascii_bin NOT NULL,
	`void_reason` varchar(200),
	`flag` varchar(200),
	CONSTRAINT `seat_id` PRIMARY KEY(`id`),
	CONSTRAINT `seat_position` UNIQUE(`round_id`,`position`)
);
--> statement-breakpoint
CREATE TABLE `stay` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`state_key` varchar(60) character set ascii collate ascii_bin NOT NULL,
	`arrived_at` datetime(3) NOT NULL,
	`left_at` datetime(3),
	`step` varchar(80),
	`by_id` char(36) character set ascii collate ascii_bin,
	`note` text NOT NULL,
	CONSTRAINT `stay_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `version` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`number` int NOT NULL,
	`content` json NOT NULL,
	`hash` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`words` json NOT NULL,
	`author_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`created_at` datetime(3) NOT NULL,
	CONSTRAINT `version_id` PRIMARY KEY(`id`),
	CONSTRAINT `version_number` UNIQUE(`piece_id`,`number`)
);
--> statement-breakpoint
CREATE TABLE `clock` (
	`id` int NOT NULL,
	`ahead_ms` bigint NOT NULL,
	CONSTRAINT `clock_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `kind` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`key` varchar(60) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(80) NOT NULL,
	`fields` json NOT NULL,
	CONSTRAINT `kind_id` PRIMARY KEY(`id`),
	CONSTRAINT `kind_key_unique` UNIQUE(`key`)
);
--> statement-breakpoint
CREATE TABLE `publication` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(120) NOT NULL,
	`calendar` json NOT NULL,
	`workflow_id` char(36) character set ascii collate ascii_bin,
	CONSTRAINT `publication_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `section` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`key` varchar(60) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(80) NOT NULL,
	`parent_id` char(36) character set ascii collate ascii_bin,
	`position` int NOT NULL DEFAULT 0,
	`workflow_id` char(36) character set ascii collate ascii_bin,
	`revision` int NOT NULL DEFAULT 1,
	CONSTRAINT `section_id` PRIMARY KEY(`id`),
	CONSTRAINT `section_key_unique` UNIQUE(`key`)
);
--> statement-breakpoint
CREATE TABLE `workflow` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`key` varchar(60) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(80) NOT NULL,
	`current_revision_id` char(36) character set ascii collate ascii_bin,
	`revision` int NOT NULL DEFAULT 1,
	CONSTRAINT `workflow_id` PRIMARY KEY(`id`),
	CONSTRAINT `workflow_key_unique` UNIQUE(`key`)
);
--> statement-breakpoint
CREATE TABLE `workflow_revision` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`workflow_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`number` int NOT NULL,
	`document` json NOT NULL,
	`created_at` datetime(3) NOT NULL,
	`created_by` char(36) character set ascii collate ascii_bin,
	CONSTRAINT `workflow_revision_id` PRIMARY KEY(`id`),
	CONSTRAINT `workflow_revision_number` UNIQUE(`workflow_id`,`number`)
);
--> statement-breakpoint
CREATE TABLE `ledger` (
	`seq` bigint NOT NULL,
	`at` datetime(3) NOT NULL,
	`actor_id` char(36) character set ascii collate ascii_bin,
	`for_id` char(36) character set ascii collate ascii_bin,
	`action` varchar(40) character set ascii collate ascii_bin NOT NULL,
	`piece_id` char(36) character set ascii collate ascii_bin,
	`subject_id` char(36) character set ascii collate ascii_bin,
	`before_value` json,
	`after_value` json,
	`origin` varchar(80) NOT NULL,
	`request_id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`previous` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`hash` varchar(64) character set ascii collate ascii_bin NOT NULL,
	CONSTRAINT `ledger_seq` PRIMARY KEY(`seq`)
);
--> statement-breakpoint
CREATE TABLE `ledger_tail` (
	`id` int NOT NULL,
	`seq` bigint NOT NULL,
	`hash` varchar(64) character set ascii collate ascii_bin NOT NULL,
	CONSTRAINT `ledger_tail_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `notice` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`person_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`piece_id` char(36) character set ascii collate ascii_bin,
	`seq` bigint NOT NULL,
	`kind` varchar(30) character set ascii collate ascii_bin NOT NULL,
	`headline` varchar(600) NOT NULL,
	`note` text NOT NULL,
	`at` datetime(3) NOT NULL,
	`read_at` datetime(3),
	CONSTRAINT `notice_id` PRIMARY KEY(`id`),
	CONSTRAINT `notice_once` UNIQUE(`seq`,`person_id`,`kind`)
);
--> statement-breakpoint
CREATE TABLE `outbox` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`notice_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`recipient` varchar(200) NOT NULL,
	`subject` varchar(600) NOT NULL,
	`body` text NOT NULL,
	`status` varchar(10) character set ascii collate ascii_bin NOT NULL,
	`attempts` int NOT NULL DEFAULT 0,
	`next_at` datetime(3) NOT NULL,
	`last_error` varchar(300),
	`sent_at` datetime(3),
	`lease_owner` varchar(40) character set ascii collate ascii_bin,
	`lease_until` datetime(3),
	CONSTRAINT `outbox_id` PRIMARY KEY(`id`),
	CONSTRAINT `outbox_notice_id_unique` UNIQUE(`notice_id`)
);
--> statement-breakpoint
CREATE TABLE `planned_release` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`version_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`at` datetime(3) NOT NULL,
	`status` varchar(10) character set ascii collate ascii_bin NOT NULL,
	`holds` json NOT NULL,
	`planned_by` char(36) character set ascii collate ascii_bin NOT NULL,
	`done_at` datetime(3),
	`lease_owner` varchar(40) character set ascii collate ascii_bin,
	`lease_until` datetime(3),
	`revision` int NOT NULL DEFAULT 1,
	CONSTRAINT `planned_release_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `standin_mail` (
	`message_id` varchar(200) character set ascii collate ascii_bin NOT NULL,
	`at` datetime(3) NOT NULL,
	`sender` varchar(200) NOT NULL,
	`recipient` varchar(200) NOT NULL,
	`subject` varchar(600) NOT NULL,
	`body` text NOT NULL,
	CONSTRAINT `standin_mail_message_id` PRIMARY KEY(`message_id`)
);
--> statement-breakpoint
ALTER TABLE `absence` ADD CONSTRAINT `absence_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `access_grant` ADD CONSTRAINT `access_grant_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `access_grant` ADD CONSTRAINT `access_grant_role_id_role_id_fk` FOREIGN KEY (`role_id`) REFERENCES `role`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `form_answer` ADD CONSTRAINT `form_answer_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `person` ADD CONSTRAINT `person_stand_in_id_person_id_fk` FOREIGN KEY (`stand_in_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `role_permission` ADD CONSTRAINT `role_permission_role_id_role_id_fk` FOREIGN KEY (`role_id`) REFERENCES `role`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `session` ADD CONSTRAINT `session_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `assignment` ADD CONSTRAINT `assignment_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `assignment` ADD CONSTRAINT `assignment_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `checklist_point` ADD CONSTRAINT `checklist_point_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `checklist_point` ADD CONSTRAINT `checklist_point_done_by_person_id_fk` FOREIGN KEY (`done_by`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `comment` ADD CONSTRAINT `comment_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `comment` ADD CONSTRAINT `comment_version_id_version_id_fk` FOREIGN KEY (`version_id`) REFERENCES `version`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `comment` ADD CONSTRAINT `comment_author_id_person_id_fk` FOREIGN KEY (`author_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `comment` ADD CONSTRAINT `comment_settled_by_person_id_fk` FOREIGN KEY (`settled_by`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `decision` ADD CONSTRAINT `decision_round_id_round_id_fk` FOREIGN KEY (`round_id`) REFERENCES `round`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `decision` ADD CONSTRAINT `decision_seat_id_seat_id_fk` FOREIGN KEY (`seat_id`) REFERENCES `seat`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `decision` ADD CONSTRAINT `decision_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `decision` ADD CONSTRAINT `decision_for_person_id_person_id_fk` FOREIGN KEY (`for_person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `decision` ADD CONSTRAINT `decision_version_id_version_id_fk` FOREIGN KEY (`version_id`) REFERENCES `version`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `piece` ADD CONSTRAINT `piece_section_id_section_id_fk` FOREIGN KEY (`section_id`) REFERENCES `section`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `piece` ADD CONSTRAINT `piece_kind_id_kind_id_fk` FOREIGN KEY (`kind_id`) REFERENCES `kind`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `piece` ADD CONSTRAINT `piece_author_id_person_id_fk` FOREIGN KEY (`author_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `piece` ADD CONSTRAINT `piece_workflow_revision_id_workflow_revision_id_fk` FOREIGN KEY (`workflow_revision_id`) REFERENCES `workflow_revision`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `piece` ADD CONSTRAINT `piece_current_version_id_version_id_fk` FOREIGN KEY (`current_version_id`) REFERENCES `version`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `piece` ADD CONSTRAINT `piece_live_version_id_version_id_fk` FOREIGN KEY (`live_version_id`) REFERENCES `version`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `piece` ADD CONSTRAINT `piece_approved_version_id_version_id_fk` FOREIGN KEY (`approved_version_id`) REFERENCES `version`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `piece_viewer` ADD CONSTRAINT `piece_viewer_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `round` ADD CONSTRAINT `round_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `round` ADD CONSTRAINT `round_version_id_version_id_fk` FOREIGN KEY (`version_id`) REFERENCES `version`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `round` ADD CONSTRAINT `round_sender_id_person_id_fk` FOREIGN KEY (`sender_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `seat` ADD CONSTRAINT `seat_round_id_round_id_fk` FOREIGN KEY (`round_id`) REFERENCES `round`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `seat` ADD CONSTRAINT `seat_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `seat` ADD CONSTRAINT `seat_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `seat` ADD CONSTRAINT `seat_for_person_id_person_id_fk` FOREIGN KEY (`for_person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `stay` ADD CONSTRAINT `stay_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `stay` ADD CONSTRAINT `stay_by_id_person_id_fk` FOREIGN KEY (`by_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `version` ADD CONSTRAINT `version_author_id_person_id_fk` FOREIGN KEY (`author_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `publication` ADD CONSTRAINT `publication_workflow_id_workflow_id_fk` FOREIGN KEY (`workflow_id`) REFERENCES `workflow`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `section` ADD CONSTRAINT `section_parent_id_section_id_fk` FOREIGN KEY (`parent_id`) REFERENCES `section`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `section` ADD CONSTRAINT `section_workflow_id_workflow_id_fk` FOREIGN KEY (`workflow_id`) REFERENCES `workflow`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `workflow` ADD CONSTRAINT `workflow_current_revision_id_workflow_revision_id_fk` FOREIGN KEY (`current_revision_id`) REFERENCES `workflow_revision`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `workflow_revision` ADD CONSTRAINT `workflow_revision_workflow_id_workflow_id_fk` FOREIGN KEY (`workflow_id`) REFERENCES `workflow`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `workflow_revision` ADD CONSTRAINT `workflow_revision_created_by_person_id_fk` FOREIGN KEY (`created_by`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `notice` ADD CONSTRAINT `notice_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `notice` ADD CONSTRAINT `notice_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `outbox` ADD CONSTRAINT `outbox_notice_id_notice_id_fk` FOREIGN KEY (`notice_id`) REFERENCES `notice`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `planned_release` ADD CONSTRAINT `planned_release_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `planned_release` ADD CONSTRAINT `planned_release_version_id_version_id_fk` FOREIGN KEY (`version_id`) REFERENCES `version`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `planned_release` ADD CONSTRAINT `planned_release_planned_by_person_id_fk` FOREIGN KEY (`planned_by`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `absence_person` ON `absence` (`person_id`,`until_date`);--> statement-breakpoint
CREATE INDEX `access_grant_person` ON `access_grant` (`person_id`);--> statement-breakpoint
CREATE INDEX `access_grant_role` ON `access_grant` (`role_id`);--> statement-breakpoint
CREATE INDEX `session_person` ON `session` (`person_id`);--> statement-breakpoint
CREATE INDEX `session_expiry` ON `session` (`expires_at`);--> statement-breakpoint
CREATE INDEX `sign_in_failure_bucket` ON `sign_in_failure` (`bucket`,`at`);--> statement-breakpoint
CREATE INDEX `assignment_person` ON `assignment` (`person_id`);--> statement-breakpoint
CREATE INDEX `comment_piece` ON `comment` (`piece_id`,`created_at`);--> statement-breakpoint
CREATE INDEX `comment_open` ON `comment` (`piece_id`,`settled_at`);--> statement-breakpoint
CREATE INDEX `decision_round` ON `decision` (`round_id`,`at`);--> statement-breakpoint
CREATE INDEX `piece_newest` ON `piece` (`since`,`id`);--> statement-breakpoint
CREATE INDEX `piece_in_flight` ON `piece` (`in_flight`,`since`,`id`);--> statement-breakpoint
CREATE INDEX `piece_section` ON `piece` (`section_id`,`since`,`id`);--> statement-breakpoint
CREATE INDEX `piece_author` ON `piece` (`author_id`,`state_kind`,`since`);--> statement-breakpoint
CREATE INDEX `piece_state` ON `piece` (`state_kind`,`since`,`id`);--> statement-breakpoint
CREATE INDEX `piece_live` ON `piece` (`live_at`,`id`);--> statement-breakpoint
CREATE INDEX `seat_person` ON `seat` (`person_id`,`status`);--> statement-breakpoint
CREATE INDEX `seat_piece` ON `seat` (`piece_id`,`person_id`);--> statement-breakpoint
CREATE INDEX `stay_piece` ON `stay` (`piece_id`,`arrived_at`);--> statement-breakpoint
CREATE INDEX `ledger_piece` ON `ledger` (`piece_id`,`seq`);--> statement-breakpoint
CREATE INDEX `ledger_actor` ON `ledger` (`actor_id`,`seq`);--> statement-breakpoint
CREATE INDEX `notice_person` ON `notice` (`person_id`,`read_at`,`at`);--> statement-breakpoint
CREATE INDEX `outbox_due` ON `outbox` (`status`,`next_at`);--> statement-breakpoint
CREATE INDEX `release_due` ON `planned_release` (`status`,`at`);--> statement-breakpoint
CREATE INDEX `release_piece` ON `planned_release` (`piece_id`,`status`);