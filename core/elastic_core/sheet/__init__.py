"""Exposure sheets: a row a frame, a column for all that happens, is said or is drawn; on paper, and as CSV."""
