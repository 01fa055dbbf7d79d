"""A load entered as it was read off: a held peak, plates, a bucket, the gauge of a jack, a lever."""
