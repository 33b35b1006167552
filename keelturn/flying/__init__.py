"""One figure flown by one pilot, or by many: conditions, numbers, course, trace and cost."""
