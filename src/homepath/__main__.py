"""`python -m homepath` is the same as `homepath`."""

from homepath.cli.app import main

main()
