"""Looking back over trials: two cuts side by side, and a trial on one page."""
