"""`python -m adhaero` is the command `adhaero`."""

from adhaero.cli import main

main()
