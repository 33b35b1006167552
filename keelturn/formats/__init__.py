"""Open documents: reading them with errors that say what, where and what to do."""
