"""Going with the first start: senders, what the plan expects now, the steps and their gates."""
