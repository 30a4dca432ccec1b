ALTER TABLE `intake_item` ADD `sender` varchar(200);--> statement-breakpoint
ALTER TABLE `intake_item` ADD `mail_key` varchar(64) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `intake_item` ADD CONSTRAINT `intake_item_mail_key_unique` UNIQUE(`mail_key`);