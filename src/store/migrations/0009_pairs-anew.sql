-- Pairs are told apart by their points now; they follow from the logs, and are worked out again where they are asked for.
UPDATE `runs` SET `pairs` = NULL WHERE `pairs` IS NOT NULL;
