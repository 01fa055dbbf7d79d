"""Spreadsheets and text tables as grids of cells."""
