"""What a screen asks: gathers from the store, asks core, answers with their values. No web, and no number of its own."""
