"""What next, is it done: steps, the plan, the bench as it stands, entries folded into measures."""
