"""One job: from facts to plan."""
