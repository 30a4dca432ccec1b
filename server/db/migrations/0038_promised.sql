ALTER TABLE `piece` ADD `promised_at` datetime(3);--> statement-breakpoint
CREATE INDEX `piece_promised` ON `piece` (`promised_at`);