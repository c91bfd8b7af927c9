"""The people of the shop, and the devices that are let in."""
