DROP INDEX `piece_deleted` ON `piece`;--> statement-breakpoint
ALTER TABLE `notice` MODIFY COLUMN `said` text;