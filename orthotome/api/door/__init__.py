"""The door to the shop's network: who is let in on which device, and what they may do there."""
