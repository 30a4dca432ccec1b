-- Sessions opened before are over, and recovery codes under the earlier hash: both are given anew.
DELETE FROM `session`;
--> statement-breakpoint
DELETE FROM `recovery_code`;
--> statement-breakpoint
CREATE TABLE `known_browser` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`person_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`at` datetime(3) NOT NULL,
	CONSTRAINT `known_browser_id_person_id_pk` PRIMARY KEY(`id`,`person_id`)
);
--> statement-breakpoint
CREATE TABLE `passkey` (
	`id` char(36) character set ascii collate ascii_bin NOT NULL,
	`person_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`credential` varchar(1400) character set ascii collate ascii_bin NOT NULL,
	`public_key` varchar(4000) NOT NULL,
	`counter` bigint NOT NULL,
	`name` varchar(60) NOT NULL,
	`created_at` datetime(3) NOT NULL,
	`used_at` datetime(3),
	CONSTRAINT `passkey_id` PRIMARY KEY(`id`),
	CONSTRAINT `passkey_credential_unique` UNIQUE(`credential`)
);
--> statement-breakpoint
CREATE TABLE `spent_challenge` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`at` datetime(3) NOT NULL,
	CONSTRAINT `spent_challenge_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
ALTER TABLE `session` ADD `factor` boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `session` ADD `seen_at` datetime(3) NOT NULL;--> statement-breakpoint
ALTER TABLE `session` ADD `proven_until` datetime(3) NOT NULL;--> statement-breakpoint
ALTER TABLE `known_browser` ADD CONSTRAINT `known_browser_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `passkey` ADD CONSTRAINT `passkey_person_id_person_id_fk` FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `known_browser_person` ON `known_browser` (`person_id`,`at`);--> statement-breakpoint
CREATE INDEX `passkey_person` ON `passkey` (`person_id`);--> statement-breakpoint
CREATE INDEX `spent_challenge_at` ON `spent_challenge` (`at`);