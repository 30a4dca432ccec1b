-- Answers kept before could be read, and may hold a link.
DELETE FROM `form_answer`;
--> statement-breakpoint
ALTER TABLE `form_answer` MODIFY COLUMN `answer` text NOT NULL;