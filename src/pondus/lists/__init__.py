"""Lists as teachers keep them: CSV files in any column order, read row by row with a reason for each bad one, and written."""
