"""The Compare station: what the breaks say, and what they do not.

Only pieces that are `broken` count here, but for those set aside with a reason. Nothing is stored but that reason and
what a person concludes; the verdict, the findings and the file of breaks are computed when asked for.
"""
