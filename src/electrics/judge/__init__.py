"""What a rule is and what it finds. The rules themselves stand in the rooms they are about."""
