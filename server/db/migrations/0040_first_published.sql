DROP INDEX `piece_live` ON `piece`;--> statement-breakpoint
CREATE INDEX `piece_first_live` ON `piece` (`first_live_at`,`id`);--> statement-breakpoint
INSERT INTO `task` (`id`, `kind`, `subject`, `due_at`, `attempts`) SELECT UUID(), 'release', `id`, UTC_TIMESTAMP(3), 0 FROM `planned_release` WHERE `status` = 'held' AND `holds` LIKE '%time-passed%' ON DUPLICATE KEY UPDATE `due_at` = UTC_TIMESTAMP(3);--> statement-breakpoint
UPDATE `planned_release` SET `holds` = '[]' WHERE `holds` LIKE '%time-passed%';
