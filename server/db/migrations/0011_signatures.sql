ALTER TABLE `decision` ADD `signature` varchar(120);--> statement-breakpoint
ALTER TABLE `decision` ADD `signed_hash` varchar(64) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `decision` ADD `withdrawn_at` datetime(3);