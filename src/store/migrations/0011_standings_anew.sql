-- How an alarm is named has changed; standings follow from the quick checks and are made anew in the background.
UPDATE check_standings SET standing = NULL, rings = 0, last_day = NULL;
