"""The test sheet: what must happen in every state, and what must not."""
