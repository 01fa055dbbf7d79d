"""Tables of breaks as people keep them: what stands where, what it says, and what of it is wrong."""
