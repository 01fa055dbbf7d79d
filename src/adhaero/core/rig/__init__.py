"""What rig readings mean: numbers in lines, calibration, the load trace."""
