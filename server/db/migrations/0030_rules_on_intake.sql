ALTER TABLE `rule_run` MODIFY COLUMN `piece_id` char(36) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `rule_run` ADD `item_id` char(36) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `rule_run` ADD CONSTRAINT `rule_run_item` UNIQUE(`rule_id`,`item_id`,`chain`);--> statement-breakpoint
ALTER TABLE `rule_run` ADD CONSTRAINT `rule_run_item_id_intake_item_id_fk` FOREIGN KEY (`item_id`) REFERENCES `intake_item`(`id`) ON DELETE cascade ON UPDATE no action;