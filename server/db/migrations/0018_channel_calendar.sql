ALTER TABLE `channel` ADD `calendar_id` varchar(64) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `channel` ADD `calendar_secret` varchar(200);--> statement-breakpoint
ALTER TABLE `channel` ADD CONSTRAINT `channel_calendar_id_unique` UNIQUE(`calendar_id`);