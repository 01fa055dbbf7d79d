"""The demo scenario: a small maker of canoe paddles, built through what a user drives."""
