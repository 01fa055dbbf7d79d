"""The Saw station: cut maps, work besides the joint, labels.

A piece comes here `planned` and leaves `sawn`; a solid one is then ready to be broken.
"""
