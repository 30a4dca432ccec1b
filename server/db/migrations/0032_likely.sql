CREATE TABLE `likely` (
	`piece_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`p10` datetime(3) NOT NULL,
	`p50` datetime(3) NOT NULL,
	`p90` datetime(3) NOT NULL,
	`ready_at` datetime(3) NOT NULL,
	`on_time` double,
	CONSTRAINT `likely_piece_id` PRIMARY KEY(`piece_id`)
);
--> statement-breakpoint
CREATE TABLE `likely_line` (
	`workflow_id` char(36) character set ascii collate ascii_bin NOT NULL,
	`at` datetime(3) NOT NULL,
	CONSTRAINT `likely_line_workflow_id` PRIMARY KEY(`workflow_id`)
);
--> statement-breakpoint
ALTER TABLE `likely` ADD CONSTRAINT `likely_piece_id_piece_id_fk` FOREIGN KEY (`piece_id`) REFERENCES `piece`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `likely_line` ADD CONSTRAINT `likely_line_workflow_id_workflow_id_fk` FOREIGN KEY (`workflow_id`) REFERENCES `workflow`(`id`) ON DELETE cascade ON UPDATE no action;