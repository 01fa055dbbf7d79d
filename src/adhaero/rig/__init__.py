"""The outside world of the rig: reading its lines, and the simulated rig to practise with."""
