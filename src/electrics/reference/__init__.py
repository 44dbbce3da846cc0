"""Published values and trade facts: one CSV per source table, a source key on every row."""
